/** How cells are typed into that take words: anything, or one of a list by the words in which it is shown. */
import type { Entered, ReadText, WordEntry } from './entered';

export interface Choice {
	code: string;
	name: string;
}

export const WORDS: WordEntry = {
	shown: (value) => String(value ?? ''),
	typed: (value) => String(value ?? ''),
	read: (text) => ({ value: text.trim() || null })
};

/** One of a list, by its name, its code, or a beginning that fits one alone. */
export function oneOf(choices: readonly Choice[]): (text: string) => { found: Choice } | { reason: string } {
	const by = new Map<string, Choice>();
	for (const choice of choices) by.set(choice.code.toLowerCase(), choice);
	for (const choice of choices) by.set(choice.name.toLowerCase(), choice);
	return (text) => {
		const word = text.trim().toLowerCase();
		const exact = by.get(word);
		if (exact) return { found: exact };
		const begin = choices.filter((c) => c.name.toLowerCase().startsWith(word));
		if (begin.length === 1) return { found: begin[0] };
		const among = choices.slice(0, 4).map((c) => c.name);
		const list = `${among.join(', ')}${choices.length > among.length ? ' and others' : ''}`;
		return {
			reason: begin.length
				? `“${text.trim()}” fits ${begin.length} of them: type more of it.`
				: `“${text.trim()}” is none of ${list || 'those that can be picked: there are none'}.`
		};
	};
}

/** @param blank what stands there, and can be picked, where nothing is chosen */
export function picked(choices: readonly Choice[], blank = ''): WordEntry {
	const names = new Map(choices.map((c) => [c.code, c.name]));
	const read = oneOf(choices);
	const shown = (value: Entered) => (value === null ? blank : (names.get(String(value)) ?? String(value)));
	return {
		shown,
		typed: shown,
		choices: [...(blank && [blank]), ...choices.map((c) => c.name)],
		read(text): ReadText {
			if (!text.trim() || text.trim().toLowerCase() === blank.toLowerCase()) return { value: null };
			const one = read(text);
			return 'found' in one ? { value: one.found.code } : one;
		}
	};
}
