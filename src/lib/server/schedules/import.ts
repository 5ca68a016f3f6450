/** Rows of a schedule from a list or a file: shown with every difference first, then taken, all of it or nothing. */
import { z } from 'zod';
import { withoutPersonal } from '../../core/blocks/schedule/personal';
import { readRows, type ListHabits, type ReadRows } from '../../core/blocks/schedule/read-rows';
import { newBatch } from '../company/journal';
import { companyFor } from '../company/structure';
import { habitOf, readAmount } from '../ledger/amounts';
import { readDate, type FeedOptions } from '../ledger/columns';
import { tableIn } from '../platform/csv';
import type { Context } from '../platform/context';
import { Refusal } from '../platform/refusal';
import { Known } from '../platform/schemas';
import { scenarioForms } from '../scenarios/plan-data';
import { mustSee, writableScenario } from '../scenarios/scenarios';
import { keptFromIn } from '../scenarios/individual-pay';
import { saveRows, scheduleIn } from './rows';
import { DECISIONS } from './taken-over';

/** Most characters of a list: so many rows with thirty cells each. */
const MOST_TEXT = 12_000_000;
export const LIST_SIZE = 2 * MOST_TEXT;

export const RowList = z.strictObject({
	scenario: Known,
	/** Headings, then a line for each; with tabs, semicolons or commas between cells. */
	text: z.string().min(1, 'nothing is pasted').max(MOST_TEXT),
	/** Shows what would be, and changes nothing. */
	dry: z.boolean().default(false),
	/** What becomes of figures that are typed where rows come to be posted. */
	typed: z.enum(DECISIONS).optional()
});

/** What a list changes of a row: null for a row that is new. */
export interface ListedChange {
	id: string;
	differences: { column: string; before: string; after: string }[] | null;
}

const text = (value: string | number | boolean | null): string =>
	value === null ? '' : typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value);

/**
 * @returns how many rows were read, what differs row by row, and which rows of the schedule the list does not have
 * @throws Refusal 403, 404, 422 with each row and heading that cannot be taken
 */
export async function importRows(
	context: Context,
	schedule: string,
	{ scenario, text: list, dry, typed }: z.output<typeof RowList>
): Promise<{ read: number; changes: ListedChange[]; missing: string[] }> {
	const { db } = context;
	const { structure } = await companyFor(context, 'change schedules');
	await mustSee(context, scenario);
	await writableScenario(db, scenario);
	const own = withoutPersonal(await scheduleIn(db, scenario, schedule), await keptFromIn(context, scenario));
	const { records, rows } = tableIn(list, 'These rows cannot be read.');
	const { schedules } = await scenarioForms(db, scenario);
	const ids = new Map(schedules.map((s) => [s.definition.code, new Set(s.rows.map((r) => r.id))]));
	const found = readRows(own, records, rows, structure, ids, habitsOf(records));
	if (found.faults.length)
		throw new Refusal(422, 'These rows cannot be taken; nothing was changed.', found.faults.slice(0, 200));
	if (!dry && found.changes.length)
		await saveRows(context, { scenario, schedule, changes: found.changes, typed }, { batch: newBatch() });
	return {
		read: records.slice(1).filter((r) => r.some((cell) => cell.trim() !== '')).length,
		changes: changesIn(found, own.definition.columns),
		missing: found.missing
	};
}

function changesIn(
	{ added, differences }: ReadRows,
	columns: readonly { code: string; label: string }[]
): ListedChange[] {
	const labels = new Map(columns.map((c) => [c.code, c.label]));
	const by = new Map<string, NonNullable<ListedChange['differences']>>();
	for (const { id, column, before, after } of differences) {
		const list = by.get(id) ?? [];
		by.set(id, list);
		list.push({ column: labels.get(column) ?? 'Divided with', before: text(before), after: text(after) });
	}
	return [
		...added.map((id) => ({ id, differences: null })),
		...[...by].map(([id, all]) => ({ id, differences: all }))
	];
}

/** Numbers and dates are written in one way throughout a list. */
function habitsOf(records: readonly (readonly string[])[]): ListHabits {
	const cells = records.slice(1).flat();
	const { decimal } = habitOf(cells.map((cell) => cell.replace(/\s*%$/, '')));
	return {
		number: (t) => readAmount(t, decimal ?? '.'),
		date: (t) => ORDER.map((style) => readDate(t, style)).find((day) => day !== null) ?? null
	};
}
/** A day comes before its month unless the year is first. */
const ORDER: readonly FeedOptions['dates'][] = ['year-first', 'day-first'];
