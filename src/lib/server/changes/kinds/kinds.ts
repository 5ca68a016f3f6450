/** The kinds of change there are; the first that an entry is one of answers for it. */
import { ADJUSTMENTS } from './adjustments';
import { BASES } from './bases';
import { CELLS, cellPlace } from './cells';
import { FORMS } from './forms';
import type { ChangeKind } from './kind';

/** What hangs on a cell is named by it: `note/block/line/row/period`. */
const SAID = /^(note|items|attachment)\//;
const ON_CELLS: ChangeKind = {
	of: (subject) => SAID.test(subject),
	words: ({ subject, before, after }, names) => ({
		place: cellPlace(subject.replace(SAID, ''), names),
		before: before || 'blank',
		after: after || 'blank'
	})
};

/** What a scenario is called, where it stands, how far it reaches, what it comes from; months closed, and the rest. */
const SCENARIO: ChangeKind = {
	of: () => true,
	words: ({ subject, before, after }, { calendar }) => {
		const month = /^close\/(.*)$/.exec(subject)?.[1];
		const period = month === undefined ? null : calendar.parse(month);
		return {
			place: period === null ? subject.replaceAll('_', ' ') : calendar.longLabel(period),
			before: before || 'blank',
			after: after || 'blank'
		};
	}
};

/**
 * In the order in which a save is taken back: typed values are gone before a form in which they have no place (those
 * that come back with a form are put in after it). A copy of
 * the past is made the other way round: forms of then, and what they hold.
 */
export const CHANGE_KINDS: readonly ChangeKind[] = [ON_CELLS, BASES, ADJUSTMENTS, CELLS, FORMS, SCENARIO];

export const kindOf = (subject: string): ChangeKind => CHANGE_KINDS.find((k) => k.of(subject))!;
