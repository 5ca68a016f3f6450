/** Adjustments, with their place in the order. */
import { z } from 'zod';
import { fromJournal, heldIn, note } from '../../company/journal';
import { readAdjustmentsOf } from '../../company/subjects/scenario/adjustments';
import { adjustmentWords, putBack, store } from '../adjustments';
import { closedToIn, mustAdjustOpenly } from '../../scenarios/individual-pay';
import { changedSince, type ChangeKind } from './kind';

const Held = z.looseObject({ name: z.string(), on: z.boolean(), adopted: z.string().nullable() });
/** What it is called and whether it counts. */
function inWords(text: string): string {
	if (text === '') return 'not there';
	const held = heldIn(text, Held);
	return held ? `${held.name}, ${held.adopted !== null ? 'written in' : held.on ? 'on' : 'off'}` : text;
}

/** What it says and does, wherever it stands in the order. */
const content = (text: string) =>
	text === '' ? '' : JSON.stringify({ ...fromJournal(text, z.looseObject({})), place: 0 });

const Lines = z.looseObject({
	name: z.string(),
	steps: z.array(z.looseObject({ lines: z.array(z.looseObject({ block: z.string() })) }))
});
/** What the journal's words are about. */
export const aboutLines = (words: string) => heldIn(words, Lines) ?? { name: '', steps: [] };

export const ADJUSTMENTS: ChangeKind<'adjustment'> = {
	what: ['adjustment'],
	words: ({ about, before, after }) => ({
		place: `adjustment ${about.code}`,
		before: inWords(before),
		after: inWords(after)
	}),
	async undo(within, { scenario, as }, entries) {
		const { db: trx, user } = within;
		const closed = await closedToIn(within, scenario);
		for (const { before, after } of entries)
			for (const words of [before, after]) mustAdjustOpenly(aboutLines(words), closed);
		const list = await readAdjustmentsOf(trx, scenario);
		// Where others stand now says nothing against it; what this one says and does has to be as it was left.
		for (const { about, before, after } of entries) {
			const { code } = about;
			if (content(adjustmentWords(list, code)) !== content(after)) throw changedSince('The adjustment');
			putBack(list, code, before);
		}
		await store(trx, scenario, list);
		await note(
			trx,
			entries.map(({ about, after }) => ({
				user: user.email,
				kind: as.kind,
				scenario,
				about,
				before: after,
				after: adjustmentWords(list, about.code),
				why: ''
			})),
			as.batch
		);
	},
	async rewind(trx, { scenario }, entries) {
		const list = await readAdjustmentsOf(trx, scenario);
		for (const { about, before } of entries) putBack(list, about.code, before);
		await store(trx, scenario, list);
	}
};
