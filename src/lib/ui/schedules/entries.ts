/** How columns of a schedule are typed into: dates, yes or no, and what is picked, by the words in which they are shown. */
import type { ScheduleColumn } from '../../core/blocks/schedule/schema';
import type { Entered, ReadText, WordEntry } from '../grid/entered';
import { oneOf, picked, WORDS, type Choice } from '../grid/word-entries';
import { readDay } from '../writing/dates';
import { day } from '../writing/format';

export const DATE: WordEntry = {
	shown: (value) => (typeof value === 'string' ? day(value) : ''),
	typed: (value) => (typeof value === 'string' ? day(value) : ''),
	read(text) {
		if (!text.trim()) return { value: null };
		const value = readDay(text);
		if (value !== null) return { value };
		return { reason: `“${text.trim()}” is no date. Type one such as 15 Feb 2027, 15.2.2027 or 2027-02-15.` };
	}
};

const YES = new Set(['yes', 'y', 'true', 'x', '1']);
const NO = new Set(['no', 'n', 'false', '0']);
const yesOrNo = (value: Entered) => (value === null ? '' : value ? 'yes' : 'no');
const YES_NO: WordEntry = {
	shown: yesOrNo,
	typed: yesOrNo,
	choices: ['yes', 'no'],
	read(text) {
		const word = text.trim().toLowerCase();
		if (!word) return { value: null };
		if (YES.has(word) || NO.has(word)) return { value: YES.has(word) };
		return { reason: `“${text.trim()}” is neither yes nor no.` };
	}
};

/** Several of a list, as codes joined by `;`. */
export function severalOf(choices: readonly Choice[]): WordEntry {
	const names = new Map(choices.map((c) => [c.code, c.name]));
	const read = oneOf(choices);
	const parts = (value: Entered) => (typeof value === 'string' ? value.split(';') : []);
	const shown = (value: Entered) =>
		parts(value)
			.map((code) => names.get(code) ?? code)
			.join('; ');
	return {
		shown,
		typed: shown,
		read(text): ReadText {
			const codes: string[] = [];
			for (const word of text.split(/[;\n]/)) {
				if (!word.trim()) continue;
				const one = read(word);
				if ('reason' in one) return one;
				if (!codes.includes(one.found.code)) codes.push(one.found.code);
			}
			return { value: codes.join(';') || null };
		}
	};
}

/** Null for a column of figures. */
export function entryOf({ kind }: ScheduleColumn, choices: readonly Choice[] = []): WordEntry | null {
	switch (kind) {
		case 'number':
		case 'money':
		case 'percent':
			return null;
		case 'text':
			return WORDS;
		case 'date':
			return DATE;
		case 'yes-no':
			return YES_NO;
		default:
			return picked(choices);
	}
}
