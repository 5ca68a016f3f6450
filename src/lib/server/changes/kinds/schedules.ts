/** Schedules: their forms, rows that came or went, and what was put into columns of rows. */
import { z } from 'zod';
import { markedAs } from '../../../core/blocks/schedule/personal';
import { changeRows, DIVIDED, RowChange, rowValue } from '../../../core/blocks/schedule/row-changes';
import { ColumnValue, type ScenarioSchedule, type ScheduleRow } from '../../../core/blocks/schedule/schema';
import { fromJournal, heldIn } from '../../company/journal';
import { formById, formId } from '../../company/subjects/forms-in-use';
import { SCHEDULE_KIND } from '../../company/subjects/schedules';
import { companyFor } from '../../company/structure';
import { Refusal } from '../../platform/refusal';
import { scenarioForms } from '../../scenarios/plan-data';
import { keepSchedule, putSchedule, type HeldRow } from '../../schedules/keep';
import type { Knex } from 'knex';
import { changedSince, type ChangeKind, type Entry, type Names } from './kind';

type OfSchedule = Entry<'schedule'> | Entry<'row'> | Entry<'column'>;
const isForm = (entry: OfSchedule): entry is Entry<'schedule'> => entry.about.what === 'schedule';
const isColumn = (entry: OfSchedule): entry is Entry<'column'> => entry.about.what === 'column';
const scheduleOf = ({ about }: OfSchedule) => (about.what === 'schedule' ? about.code : about.schedule);

type AddedRow = Extract<RowChange, { kind: 'add' }>['row'];
const Held = z.object({
	row: RowChange.options[0].shape.row,
	after: z.string().nullable()
}) as z.ZodType<HeldRow>;

const held = (text: string): ColumnValue | null => (text === '' ? null : fromJournal(text, ColumnValue));

function inWords(text: string, names: Names): string {
	if (text === '') return 'blank';
	const value = heldIn(text, ColumnValue);
	if (value === null) return text;
	if (typeof value === 'boolean') return value ? 'yes' : 'no';
	if (typeof value === 'number') return String(value);
	return names.named(value);
}

export const SCHEDULES: ChangeKind<'schedule' | 'row' | 'column'> = {
	what: ['schedule', 'row', 'column'],
	words(either, names) {
		const entry = either as OfSchedule;
		const { before, after } = entry;
		const schedule = scheduleOf(entry);
		if (isForm(entry)) return { place: names.model(schedule), before: '', after: '' };
		if (isColumn(entry)) {
			const { row, column } = entry.about;
			const label = column === DIVIDED ? 'divided with' : names.line(schedule, column);
			return {
				place: `${names.model(schedule)}: ${names.row(schedule, row)}, ${label}`,
				before: inWords(before, names),
				after: inWords(after, names)
			};
		}
		const there = (text: string) => (text === '' ? 'not there' : 'there');
		return {
			place: `${names.model(schedule)}: ${names.row(schedule, entry.about.id)}`,
			before: there(before),
			after: there(after)
		};
	},
	async undo(within, { scenario, as }, entries) {
		await companyFor(within, 'change schedules');
		for (const [schedule, own] of bySchedule(entries as readonly OfSchedule[])) {
			const before = await inScenario(within.db, scenario, schedule);
			const after = await takenBack(within.db, before, own, true);
			await keepSchedule(within, scenario, { before, after }, as);
		}
	},
	async rewind(trx, { scenario }, entries) {
		for (const [schedule, own] of bySchedule(entries as readonly OfSchedule[])) {
			const before = await inScenario(trx, scenario, schedule);
			await putSchedule(trx, scenario, schedule, {
				before,
				after: await takenBack(trx, before, own, false)
			});
		}
	}
};

async function inScenario(db: Knex, scenario: string, code: string): Promise<ScenarioSchedule | null> {
	return (await scenarioForms(db, scenario)).schedules.find((s) => s.definition.code === code) ?? null;
}

/** In the order of the entries. */
function bySchedule(entries: readonly OfSchedule[]): Map<string, OfSchedule[]> {
	const found = new Map<string, OfSchedule[]>();
	for (const entry of entries) {
		const own = found.get(scheduleOf(entry));
		if (own) own.push(entry);
		else found.set(scheduleOf(entry), [entry]);
	}
	return found;
}

/**
 * A schedule before these changes, newest first.
 * @param strict what is other than it was left refuses all
 * @throws Refusal 409 then; 422 where a form is not kept
 */
async function takenBack(
	db: Knex,
	now: ScenarioSchedule | null,
	entries: readonly OfSchedule[],
	strict: boolean
): Promise<ScenarioSchedule | null> {
	let definition = now?.definition ?? null;
	let rows: readonly ScheduleRow[] = now?.rows ?? [];
	for (const entry of entries) {
		if (!isForm(entry)) {
			const { rows: next, conflicts } = changeRows(rows, backwards(entry, rows));
			if (strict && conflicts.length) throw changedSince('A row of the schedule');
			rows = next;
			continue;
		}
		if (strict && (definition ? formId(definition) : '') !== entry.after) throw changedSince('The schedule');
		const form = await formById(db, SCHEDULE_KIND, entry.before);
		if (entry.before !== '' && !form)
			throw new Refusal(
				422,
				'The form that the schedule had is not kept: it was not in the folder from which the company was loaded.'
			);
		// What is personal today stays so in whatever stood before.
		definition = form && !strict && now ? markedAs(form, now.definition) : form;
	}
	return definition && { definition, rows };
}

/**
 * What takes a change of a row back.
 * @param rows as they are now: a row that was put in goes as a whole only while it is as it was put in
 */
function backwards(entry: Entry<'row'> | Entry<'column'>, rows: readonly ScheduleRow[]): RowChange[] {
	const { before, after } = entry;
	if (isColumn(entry)) {
		const { row: id, column } = entry.about;
		return [{ kind: 'set', id, column, before: held(after), value: held(before) }];
	}
	if (before !== '') {
		const { row, after: behind } = fromJournal(before, Held);
		return [{ kind: 'add', row: row as AddedRow, after: behind }];
	}
	const { id } = (entry as Entry<'row'>).about;
	const put = fromJournal(after, Held).row;
	const now = rows.find((r) => r.id === id);
	const columns = now ? [...Object.keys(put.values), ...Object.keys(now.values), DIVIDED] : [];
	const differing = columns.find((c) => rowValue(put, c) !== rowValue(now!, c));
	// A change that cannot be met says that something is other now.
	if (differing !== undefined)
		return [{ kind: 'set', id, column: differing, before: rowValue(put, differing), value: null }];
	return [{ kind: 'remove', id }];
}
