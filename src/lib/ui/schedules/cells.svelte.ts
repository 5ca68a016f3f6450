/** What stands in the cells of a schedule's grid: in its columns, and in the periods of its lines. */
import { rowValue } from '../../core/blocks/schedule/row-changes';
import {
	SHARE,
	type ScheduleColumn,
	type ScheduleDefinition,
	type ScheduleLine,
	type ScheduleRow
} from '../../core/blocks/schedule/schema';
import type { Calendar } from '../../core/calendar/calendar';
import { toIsoDate } from '../../core/calendar/dates';
import type { Span } from '../../core/calendar/spans';
import type { NumberFormat } from '../../core/company/schema';
import type { Cell } from '../../core/engine/values';
import type { ScheduleViewRow } from '../../core/views/schedule-view';
import { cellKey } from '../entry/cell-key';
import { glyphsOf, type CellMark } from '../entry/glyphs';
import { isMonth } from '../grid/columns';
import type { WordEntry } from '../grid/entered';
import type { GridCell, GridColumn, GridRow } from '../grid/types';
import { day, exact } from '../writing/format';
import { differenceWords, type Compared } from './compared';
import { holdsFigures, type RowColumn, type ScheduleColumns } from './columns';
import type { Choice } from '../grid/word-entries';
import { entryOf, severalOf } from './entries';

/** What they are made from; asked anew whenever it changes. */
export interface ScheduleCellsSource {
	readonly definition: ScheduleDefinition;
	readonly choices: Readonly<Record<string, readonly Choice[]>>;
	readonly calendar: Calendar;
	readonly layout: ScheduleColumns;
	readonly shown: readonly RowColumn[];
	readonly read: readonly Span[];
	readonly open: number;
	readonly last: number;
	readonly editable: boolean;
	readonly reason: string;
	/** As they are saved, by what they are known by. */
	readonly list: ReadonlyMap<string, ScheduleRow>;
	/** By key as they are saved, and those that are other by what is typed. */
	readonly saved: ReadonlyMap<string, ScheduleViewRow>;
	readonly changed: ReadonlyMap<string, ScheduleViewRow>;
	readonly totals: readonly Cell[];
	/** Notes, items and attachments; of columns, with no period. */
	readonly marks: readonly (CellMark & { block: string; line: string; row: string; period: number | null })[];
	/** What is other in another scenario's rows; null where none is compared. */
	readonly compared: Compared | null;
}

/** The key of the row that takes all together. */
export const ALL = '@all';
const FORMATS: Partial<Record<ScheduleColumn['kind'], NumberFormat>> = { money: 'money', percent: 'percent' };

export class ScheduleCells {
	readonly #source: ScheduleCellsSource;
	readonly #columns = $derived.by(() => new Map(this.#source.shown.map((c) => [c.code, c])));
	readonly #entries = $derived.by(
		() =>
			new Map(
				this.#source.definition.columns.map(
					(c) => [c.code, entryOf(c, this.#source.choices[c.code])] as const
				)
			)
	);
	readonly #divided = $derived.by(() => {
		const { definition, choices } = this.#source;
		const department = definition.columns.find((c) => c.kind === 'department');
		return severalOf(department ? (choices[department.code] ?? []) : []);
	});

	constructor(source: ScheduleCellsSource) {
		this.#source = source;
	}

	/** A row as it is, or would be with what is typed; undefined for one that is just put in. */
	row(key: string): ScheduleViewRow | undefined {
		return this.#source.changed.get(key) ?? this.#source.saved.get(key);
	}
	line(code: string): ScheduleLine | undefined {
		return this.#source.definition.lines.find((l) => l.code === code);
	}
	formatOf(line: string): NumberFormat {
		return line === SHARE ? 'percent' : (this.line(line)?.format ?? 'number');
	}

	readonly #marks = $derived.by(
		() => new Map(this.#source.marks.map((m) => [[m.block, m.line, m.row, m.period ?? ''].join('\u0000'), m]))
	);
	#glyphs(block: string, line: string, row: string, period: number | null): GridCell['glyphs'] {
		return glyphsOf(this.#marks.get([block, line, row, period ?? ''].join('\u0000')));
	}
	readonly #differing = $derived.by(
		() =>
			new Map(
				(this.#source.compared?.rows ?? []).flatMap((r) =>
					r.differences.map((d) => [`${r.id}|${d.in}`, d] as const)
				)
			)
	);
	/** What is saved can be looked into, and noted. */
	#opened(id: string, { code, column }: RowColumn, cell: GridCell): GridCell {
		const { list, definition } = this.#source;
		if (!column || !list.has(id)) return cell;
		return { ...cell, opens: true, glyphs: this.#glyphs(definition.code, code, id, null) };
	}
	/** Points to what the other scenario has elsewise. */
	#against(id: string, column: string, cell: GridCell): GridCell {
		const difference = this.#differing.get(`${id}|${column}`);
		if (!difference || cell.title) return cell;
		const { definition, choices, calendar, compared } = this.#source;
		const { there } = differenceWords(difference, definition, choices, calendar);
		return { ...cell, tone: 'attention', title: `In ${compared!.name}: ${there}` };
	}

	at(gridRow: GridRow, column: GridColumn): GridCell | undefined {
		const own = this.#columns.get(column.key);
		if (gridRow.key === ALL) return own ? undefined : this.#total(column);
		const row = this.row(gridRow.key);
		if (own)
			return row === undefined || row.kind === 'row'
				? this.#opened(
						gridRow.key,
						own,
						this.#against(gridRow.key, own.code, this.#inRow(gridRow.key, row, own))
					)
				: undefined;
		return row && this.#figure(row, column);
	}

	/** What stands in a column of a row. */
	#inRow(id: string, row: ScheduleViewRow | undefined, { code, column }: RowColumn): GridCell {
		const { editable, reason, list } = this.#source;
		const held = list.get(id);
		const at = { row: id, column: code };
		if (column?.formula !== undefined) return this.#computed(row, column);
		const typed = held ? rowValue(held, code) : null;
		const adjusted = row?.adjusted?.[code];
		if (column && holdsFigures(column)) {
			const own = typeof typed === 'number' ? typed : null;
			const format = FORMATS[column.kind] ?? 'number';
			if (typeof adjusted !== 'number') return { value: own, typed: own, at, editable, format, reason };
			const title = `${exact(adjusted, format)} · adjusted, typed is ${exact(own, format)}`;
			return { value: adjusted, under: own, typed: own, at, editable, format, reason, title };
		}
		const entry: WordEntry = (column ? this.#entries.get(code) : null) ?? this.#divided;
		const cell: GridCell = { value: null, typed, entry, at, editable, reason };
		if (adjusted === undefined) return cell;
		return { ...cell, tone: 'attention', title: `Adjustments make it ${entry.shown(adjusted)}` };
	}
	#computed(row: ScheduleViewRow | undefined, column: ScheduleColumn): GridCell {
		const value = row?.computed?.[column.code] ?? null;
		const before = row && this.#source.saved.get(row.key)?.computed?.[column.code];
		const preview = before !== undefined && before !== value;
		const reason = `${column.label} is worked out: ${column.formula}`;
		if (column.kind === 'date')
			return {
				value: null,
				text: typeof value === 'number' ? day(toIsoDate(value)) : String(value ?? ''),
				preview,
				reason,
				title: reason
			};
		return { value, format: FORMATS[column.kind] ?? 'number', preview, reason, title: reason };
	}

	#total(column: GridColumn): GridCell {
		const { totals, layout } = this.#source;
		const at = layout.spanAt.get(column.key);
		return {
			value: at === undefined ? null : (totals[at] ?? null),
			reason: 'This is all rows that are shown together.'
		};
	}

	#figure(row: ScheduleViewRow, column: GridColumn): GridCell | undefined {
		const { layout, saved, read, calendar, open, last } = this.#source;
		const at = layout.spanAt.get(column.key);
		if (at === undefined) return undefined;
		const span = read[at];
		const value = row.cells[at] ?? null;
		const format = this.formatOf(row.line);
		const { target } = row;
		const line = this.line(row.line);
		const typedLine = row.line === SHARE || (line !== undefined && line.formula === undefined);
		const month = isMonth(span) && column.span !== undefined;
		const writable = typedLine && target !== null && month && span.from >= open && span.to <= last;
		const before = saved.get(row.key);
		const [typed] = [before?.typed ?? before?.cells].map((cells) => cells?.[at] ?? null);
		const under = (row.typed ?? row.cells)[at] ?? null;
		return {
			value,
			typed: month && typeof typed === 'number' ? typed : null,
			under: month && under !== value ? under : undefined,
			without: row.line === SHARE ? 1 : undefined,
			at: writable ? { row: cellKey(target.line, target.row), column: calendar.key(span.from) } : undefined,
			preview: before !== undefined && before.cells[at] !== value,
			editable: writable && this.#source.editable,
			glyphs: month && target ? this.#glyphs(target.block, target.line, target.row, span.from) : undefined,
			format,
			reason: this.#whyNot(row, typedLine, month),
			title: () => {
				const figure = exact(value, format);
				if (row.line === SHARE) return `${figure}${under === null ? ' · blank is all of it' : ''}`;
				return line?.formula === undefined ? undefined : `${figure} · calculated: ${line.formula}`;
			}
		};
	}
	#whyNot({ kind, line }: ScheduleViewRow, typed: boolean, month: boolean): string {
		const { editable, reason, calendar } = this.#source;
		if (!editable) return reason;
		if (!typed) return `${this.line(line)?.label ?? 'This'} is calculated and cannot be typed.`;
		if (kind === 'group' || !month)
			return 'These are several cells together and cannot be typed; type into those under it.';
		return `This is outside the ${calendar.words.many} that can be planned and cannot be typed.`;
	}
}
