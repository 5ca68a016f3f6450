/** The kinds of change there are. */
import { ADJUSTMENTS } from './adjustments';
import { BASES } from './bases';
import { CELLS, cellPlace } from './cells';
import { FORMS } from './forms';
import { SCHEDULES } from './schedules';
import { changedText, type OnCell } from '../../company/changed';
import type { ChangeKind, Entry } from './kind';

/** What hangs on a cell is told by it. */
const ON_CELLS: ChangeKind<OnCell> = {
	what: ['note', 'items', 'attachment'],
	words: ({ about, before, after }, names) => ({
		place: cellPlace(about, names),
		before: before || 'blank',
		after: after || 'blank'
	})
};

/** What a scenario is called, where it stands, how far it reaches, what it comes from; months closed, and the rest. */
const SCENARIO: ChangeKind = {
	what: [
		'scenario',
		'close',
		'feed',
		'map',
		'profile',
		'rule',
		'member',
		'rows',
		'person',
		'account',
		'department',
		'entity',
		'rates',
		'module'
	],
	words: ({ about, before, after }, { calendar }) => {
		const period = about.what === 'close' ? calendar.parse(about.period) : null;
		return {
			place: period === null ? changedText(about).replaceAll('_', ' ') : calendar.longLabel(period),
			before: before || 'blank',
			after: after || 'blank'
		};
	}
};

/**
 * In the order in which a save is taken back: typed values are gone before a row or a form in which they have no
 * place (those that come back with one are put in after it). A copy of the past is made the other way round: forms of
 * then, and what they hold.
 */
const KINDS = [ON_CELLS, BASES, ADJUSTMENTS, CELLS, SCHEDULES, FORMS, SCENARIO];
/** Each is handed entries of its own alone. */
export const CHANGE_KINDS = KINDS as readonly unknown[] as readonly ChangeKind[];

const byWhat = new Map(CHANGE_KINDS.flatMap((kind) => kind.what.map((what) => [what, kind] as const)));
export const kindOf = ({ about }: Entry): ChangeKind => byWhat.get(about.what)!;
