/** Saving what is typed into a schedule, and what to do when somebody else was quicker. */
import type { RowConflict } from '../../core/blocks/schedule/row-changes';
import type { ScheduleDefinition } from '../../core/blocks/schedule/schema';
import type { Calendar } from '../../core/calendar/calendar';
import type { NumberFormat } from '../../core/company/schema';
import { cellKey } from '../entry/cell-key';
import { Saving, type ServerConflict } from '../entry/saving.svelte';
import { typedIn, type Decision, type Typed } from '../design/typed-under';
import type { Entered } from '../grid/entered';
import { post, type ApiError } from '../kit/api';
import { notices } from '../kit/notices.svelte';
import { reread } from '../kit/reread';
import { counted } from '../writing/count';
import { exact } from '../writing/format';
import { spoken } from '../writing/spoken';
import { rowColumns } from './columns';
import type { RowBatch } from './row-batch.svelte';

export interface ScheduleSavingPage {
	readonly batch: RowBatch;
	readonly scenario: string;
	readonly definition: ScheduleDefinition;
	readonly calendar: Calendar;
	formatOf(line: string): NumberFormat;
	labelOf(line: string): string;
	/** What becomes of figures that are typed where it is posted; undefined until it is asked. */
	readonly decision: Decision | undefined;
	/** Told what is typed there. */
	ontyped(typed: Typed[]): void;
	/** Told what has to be mended, in words with its place; nothing when it is tried again. */
	onfaults(told: { message: string; faults: { message: string }[] } | null): void;
}
/** A value of a row, or a month, that is another on the server. */
type Differs = Extract<RowConflict, { kind: 'differs' }> | ServerConflict;

export function scheduleSaving(page: ScheduleSavingPage): Saving<Entered, Differs> {
	const column = (code: string) => rowColumns(page.definition).find((c) => c.code === code)?.label ?? code;
	const said = (value: unknown) => (value === null ? 'blank' : String(value));
	return new Saving<Entered, Differs>({
		edits: page.batch.edits,
		send(typed) {
			page.onfaults(null);
			return post(`schedules/${page.definition.code}/rows`, {
				scenario: page.scenario,
				...(page.decision ? { typed: page.decision } : {}),
				...page.batch.send(typed)
			});
		},
		differs: (data): data is Differs[] =>
			Array.isArray(data) && data.every((c: Differs | RowConflict) => 'edit' in c || c.kind === 'differs'),
		cellOf: (c) =>
			'edit' in c
				? {
						row: cellKey(c.edit.line, c.edit.row),
						column: page.calendar.key(c.edit.period),
						theirs: c.theirs
					}
				: { row: c.change.id, column: c.change.column, theirs: c.theirs },
		view(c) {
			if (!('edit' in c)) {
				const { id, column: code, value } = c.change;
				return {
					name: `${id}, ${column(code)}`,
					mine: said(value),
					theirs: said(c.theirs),
					user: '',
					at: ''
				};
			}
			const { row, line, period, value } = c.edit;
			const format = page.formatOf(line);
			return {
				name: `${row.replace('|', ', ')}, ${page.labelOf(line)}, ${page.calendar.label(period)}`,
				mine: exact(value, format),
				theirs: exact(c.theirs, format),
				user: c.user,
				at: c.at
			};
		},
		told: (count) => `${counted(count, 'change')} saved; accounts and all that rests on them follow.`,
		onfaults({ message, faults, data }: ApiError) {
			const under = typedIn(data);
			if (under) return page.ontyped(under);
			const taken = takenIn(data);
			if (taken.length) return void calledAnew(page, taken);
			page.onfaults({
				message,
				faults: faults.map((f) => {
					const [id, code] = (f.column ?? '').split('/');
					return { message: `${id}${code ? `, ${column(code)}` : ''}: ${f.message}` };
				})
			});
		}
	});
}

/** Identifiers of new rows that other rows have, which may be out of sight or somebody else’s. */
function takenIn(data: unknown): string[] {
	const conflicts = Array.isArray(data) ? (data as (RowConflict | ServerConflict)[]) : [];
	return conflicts.flatMap((c) => ('kind' in c && c.kind === 'taken' ? c.id : []));
}
/** Calls these rows by what is free now, which the page has to be read anew for. */
async function calledAnew({ batch }: ScheduleSavingPage, ids: readonly string[]): Promise<void> {
	await reread();
	const now = ids.map((id) => `${id} is ${batch.rename(id)}`);
	const have = ids.length === 1 ? 'Another row has this identifier' : 'Other rows have these identifiers';
	notices.say(`${have} already, so ${spoken(now)} now. Nothing is saved yet: save again.`, true);
}
