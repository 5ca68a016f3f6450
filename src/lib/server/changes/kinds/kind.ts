/** What every kind of change answers for itself: its words, taking it back, and taking it out of a copy of the past. */
import type { Knex } from 'knex';
import type { Calendar, Period } from '../../../core/calendar/calendar';
import type { Within } from '../../platform/context';
import { changedIn, type About, type What } from '../../company/changed';
import type { JournalRecord } from '../../company/subjects/journal';
import { Refusal } from '../../platform/refusal';
import type { SavedAs } from '../../scenarios/cells';

/** What an entry of the journal says of one change. */
export type Entry<W extends What = What> = Pick<JournalRecord, 'before' | 'after'> & { about: About<W> };
export const entryOf = ({
	subject,
	before,
	after
}: Pick<JournalRecord, 'subject' | 'before' | 'after'>): Entry => ({
	about: changedIn(subject),
	before,
	after
});

/** What things are called today. */
export interface Names {
	/** The company’s, and that of a block. */
	calendar: Calendar;
	calendarOf(block: string): Calendar;
	account(code: string): string;
	department(code: string): string;
	model(block: string): string;
	/** Of a block; of a schedule, one of its columns too. */
	line(block: string, code: string): string;
	row(block: string, row: string): string;
	/** A code that stands in a row: of an account, a department, a member; what is none stays as it is. */
	named(code: string): string;
}

/** A change in words; where before and after say nothing to a reader, they are empty. */
export interface Words {
	place: string;
	before: string;
	after: string;
}

/** How a save is taken back. */
export interface Undoing {
	scenario: string;
	calendar: Calendar;
	as: SavedAs;
	/** Whether forms or rows come back with it, and typed values to where they stood, also in closed months. */
	withPlaces: boolean;
}

/** The copy out of which changes are taken. */
export interface Rewinding {
	scenario: string;
	calendar: Calendar;
	/** The last period that the scenario had then. */
	last: Period;
}

/** Methods, so that a kind of its own entries alone stands in the list of all. */
export interface ChangeKind<W extends What = What> {
	/** What its entries are about. */
	readonly what: readonly W[];
	words(entry: Entry<W>, names: Names): Words;
	/**
	 * Takes back its part of a save, newest first, each change by the door by which it is usually made; left out by what is
	 * not taken back here.
	 * @throws Refusal 409 when something of it has changed since
	 */
	undo?(within: Within, by: Undoing, entries: readonly Entry<W>[]): Promise<void>;
	/** Takes changes out of a copy, newest first; left out by what a copy does not hold. */
	rewind?(trx: Knex.Transaction, at: Rewinding, entries: readonly Entry<W>[]): Promise<void>;
}

/** What keeps a save from being taken back. */
export const changedSince = (what: string) =>
	new Refusal(409, `${what} has been changed since. Nothing is taken back; look at what stands there now.`);
