/** Text of files that people bring: as it is, or the first sheet of a workbook. */
import { decodeText, isZip } from '../../../core/encoding';
import { Thread } from '../../../core/thread';
import { Refusal } from '../refusal';
import { startWorker } from '../worker-thread';
import type { NotTaken, SheetText } from './read';
import type { WorksheetWork } from './worker';

/** Reading a workbook is ended after this (milliseconds), or when it holds more than this of memory (MB). */
const LONGEST_MS = 60_000;
const MOST_MEMORY = 1536;

export interface BroughtText {
	content: string;
	/** How it was read, where that is to be looked at; empty where it is plain. */
	said: string;
}

const reader = new Thread<WorksheetWork>(() =>
	startWorker('worksheets', { maxOldGenerationSizeMb: MOST_MEMORY })
);
/** One workbook at a time: the next is read when this is. */
let before: Promise<unknown> = Promise.resolve();

/** @throws Refusal 422 when it is neither text nor a workbook, or cannot be read */
export async function textOfFile(name: string, bytes: Uint8Array): Promise<BroughtText> {
	if (isZip(bytes)) {
		const { content, sheet, others } = await sheetOf(name, bytes);
		const left = others.length ? `; left out: ${others.map((name) => `“${name}”`).join(', ')}` : '';
		return { content, said: `Read from the sheet “${sheet}”${left}.` };
	}
	const text = decodeText(bytes);
	if (!text)
		throw new Refusal(
			422,
			`${name} is no text file or workbook, or in an encoding that is not known. Save it as CSV in UTF-8, or as XLSX.`
		);
	const { content, encoding } = text;
	return {
		content,
		said: encoding === 'UTF-8' ? '' : `Read as ${encoding}; check that names with accents are right.`
	};
}

async function sheetOf(name: string, bytes: Uint8Array): Promise<SheetText> {
	const turn = before.then(() =>
		reader.ask<SheetText | NotTaken>((work) => work.read(bytes), { longest: LONGEST_MS })
	);
	before = turn.catch(() => {});
	let found: SheetText | NotTaken;
	try {
		found = await turn;
	} catch {
		throw new Refusal(
			422,
			`${name} is too large to be read as a workbook. Save the sheet as CSV and bring that.`
		);
	}
	if ('refused' in found) throw new Refusal(422, `${name} ${found.refused}`);
	return found;
}
