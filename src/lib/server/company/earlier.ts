/** Folders of earlier versions called the block of planned accounts `ledger`; no driver model may have that code. */
import { ACCOUNTS_BLOCK } from '../../core/engine/spec';

const WAS = 'ledger';

export const blockNow = (block: string): string => (block === WAS ? ACCOUNTS_BLOCK : block);

/** A cell, or what hangs on one, as the journal names it. */
export const subjectNow = (subject: string): string =>
	subject.replace(/^((?:note|items|attachment)\/)?ledger\//, `$1${ACCOUNTS_BLOCK}/`);

/** What the journal says of an adjustment, as JSON. */
export function adjustmentWordsNow(subject: string, words: string): string {
	if (!subject.startsWith('adjustment/')) return words;
	try {
		return JSON.stringify(JSON.parse(words), (key, value: unknown) =>
			key === 'block' && typeof value === 'string' ? blockNow(value) : value
		);
	} catch {
		// Empty, or of a folder that was written by hand.
		return words;
	}
}
