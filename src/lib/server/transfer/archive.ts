/** A company folder as one file: a zip of its tables (PKWARE APPNOTE 6.3; names in UTF-8). */
import { strToU8, unzipSync, zip, type UnzipFileInfo } from 'fflate';
import { Refusal, type Fault } from '../platform/refusal';

/** What a zip may unpack to, in bytes and files. */
const MOST_UNPACKED = 512 * 1024 * 1024;
const MOST_FILES = 20_000;

/** Packs files beside each other, off this thread. @param files path with forward slashes → content */
export function packed(files: ReadonlyMap<string, string>): Promise<Uint8Array> {
	const held = Object.fromEntries([...files].map(([path, content]) => [path, strToU8(content)]));
	return new Promise((done, failed) =>
		zip(held, { level: 6 }, (error, bytes) => (error ? failed(error) : done(bytes)))
	);
}

/** A path that leads nowhere but into the folder. */
const isInside = (path: string) => !/^[/\\]|^[A-Za-z]:|\\|\0/.test(path) && !path.split('/').includes('..');
const isTable = (path: string) => /\.(csv|json)$/.test(path) && !/(^|\/)(__MACOSX\/|\.)/.test(path);

/**
 * The tables in a zip; the folder that all of them may lie in is left out of their paths.
 * @throws Refusal 422 for what is no zip, leads outside, is not UTF-8, or would unpack to more than is taken
 */
export function unpacked(name: string, bytes: Uint8Array): Map<string, string> {
	const faults: Fault[] = [];
	let size = 0;
	let count = 0;
	/** Asked before anything of a file is unpacked. */
	const filter = ({ name: path, originalSize }: UnzipFileInfo): boolean => {
		if (!isInside(path))
			faults.push({ file: path, message: 'leads out of the folder; nothing was unpacked' });
		if (!isTable(path)) return false;
		size += originalSize;
		count++;
		return faults.length === 0 && size <= MOST_UNPACKED && count <= MOST_FILES;
	};
	let files: Record<string, Uint8Array>;
	try {
		files = unzipSync(bytes, { filter });
	} catch {
		throw new Refusal(422, `${name} is no zip, or is damaged. Pack the company folder anew.`);
	}
	if (faults.length) throw new Refusal(422, `${name} was not taken.`, faults);
	if (size > MOST_UNPACKED || count > MOST_FILES)
		throw new Refusal(
			413,
			`${name} would unpack to more than ${MOST_UNPACKED / 1024 / 1024} MB or ${MOST_FILES} files, the most that is taken. Load the folder on the server: npm run company -- load <folder>.`
		);
	const utf8 = new TextDecoder('utf-8', { fatal: true });
	const found = new Map<string, string>();
	for (const [path, content] of Object.entries(files))
		try {
			found.set(path, utf8.decode(content));
		} catch {
			faults.push({ file: path, message: 'is not UTF-8. Save it as UTF-8, so that no character is lost.' });
		}
	if (faults.length) throw new Refusal(422, `${name} was not taken.`, faults);
	return fromTop(name, found);
}

/** A zip is often of the folder itself rather than of what lies in it. */
function fromTop(name: string, files: ReadonlyMap<string, string>): Map<string, string> {
	const company = [...files.keys()]
		.filter((path) => /(^|\/)company\.json$/.test(path))
		.sort((a, b) => a.length - b.length)[0];
	if (company === undefined)
		throw new Refusal(422, `${name} holds no company: there is no company.json in it.`);
	const top = company.slice(0, -'company.json'.length);
	return new Map(
		[...files].filter(([path]) => path.startsWith(top)).map(([path, text]) => [path.slice(top.length), text])
	);
}
