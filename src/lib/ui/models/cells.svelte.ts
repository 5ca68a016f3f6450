/** What stands in the cells of a driver model's grid: saved, as it would be with what is typed, and beside another scenario. */
import { ownValue } from '../../core/text';
import type { Calendar } from '../../core/calendar/calendar';
import type { Span } from '../../core/calendar/spans';
import type { Cell } from '../../core/engine/values';
import { ROW_SEPARATOR } from '../../core/engine/row-key';
import type { Line, ModelDefinition, ScopedFormula } from '../../core/blocks/driver-model/schema';
import type { ViewRow } from '../../core/views/model-view';
import { scopeAt } from '../../core/blocks/driver-model/scope';
import { besideKey, besideValue } from '../entry/beside';
import { exact } from '../writing/format';
import { isMonth } from '../grid/columns';
import type { GridCell, GridColumn, GridRow } from '../grid/types';
import { acrossKey, type ModelColumns, type Shows } from './columns';
import { cellKey } from '../entry/cell-key';

type Rows = ReadonlyMap<string, ViewRow>;

/** What they are made from; asked anew whenever it changes. Months are ordinals, rows by their keys. */
export interface ModelCellsSource {
	readonly model: {
		definition: ModelDefinition;
		spans: readonly Span[];
		across: readonly { key: string }[];
		dimensions: readonly { code: string; members: readonly { code: string; depth: number }[] }[];
		open: number;
		last: number;
		editable: boolean;
		reason: string;
		/** Rows of the model that a combination rule keeps data out of, with its name. */
		blocked: Readonly<Record<string, string>>;
	};
	readonly calendar: Calendar;
	readonly layout: ModelColumns;
	readonly saved: Rows;
	/** Rows that are other by what is typed and not saved. */
	readonly changed: Rows;
	readonly other: { name: string; last: number; rows: Rows | null; difference: boolean } | undefined;
}

export class ModelCells {
	readonly #source: ModelCellsSource;
	/** Members above each one, by dimension: what a scoped formula is limited to may be a group of members. */
	readonly #groups = $derived.by(
		() =>
			new Map(
				this.#source.model.dimensions.map((d) => {
					const path: string[] = [];
					const above = d.members.map((m) => {
						path.length = m.depth;
						path.push(m.code);
						return [m.code, new Set(path)] as const;
					});
					return [d.code, new Map(above)] as const;
				})
			)
	);

	constructor(source: ModelCellsSource) {
		this.#source = source;
	}

	/** A row as it is, or would be with what is typed. */
	row(key: string): ViewRow | undefined {
		return this.#source.changed.get(key) ?? this.#source.saved.get(key);
	}
	line(code: string): Line {
		return this.#source.model.definition.lines.find((l) => l.code === code)!;
	}
	monthsOf({ span }: Shows): Span {
		return this.#source.model.spans[span];
	}

	at(gridRow: GridRow, column: GridColumn): GridCell | undefined {
		const row = this.row(gridRow.key);
		if (!row) return undefined;
		if (column.key === 'formula') return this.#formula(row);
		if (!row.cells.length) return { value: null, reason: 'The figures of this row are still being read.' };
		if (column.kind === 'shape') return { value: null, values: this.#months(row) };
		const beside = besideKey(column.key);
		return beside === null ? this.#figure(row, column) : this.#beside(row, beside);
	}

	#formula(row: ViewRow): GridCell {
		if (row.heads === null) return { value: null, text: '' };
		const { formula } = this.line(row.heads);
		return {
			value: null,
			text: formula ?? 'typed',
			action: formula !== undefined,
			title: formula === undefined ? 'Typed in, month by month.' : `${formula}\nEnter opens it.`
		};
	}
	#months(row: ViewRow): Cell[] {
		return this.#source.model.spans.flatMap((s, span) =>
			isMonth(s) ? [this.#valueAt(row, { entry: 0, span })] : []
		);
	}
	/** A figure of the other scenario, or the difference to it, in the first entry across. */
	#beside(row: ViewRow, key: string): GridCell {
		const { model, layout, other } = this.#source;
		const show = layout.shows.get(acrossKey(model.across[0].key, key))!;
		const target = row.targets[0];
		if (!target) return { value: null };
		const theirs = this.#valueAt(other?.rows?.get(row.key), show);
		return {
			value: other?.rows
				? besideValue(this.#valueAt(row, show), theirs, other.difference, this.monthsOf(show), other)
				: null,
			format: this.line(target.line).format,
			reason: `${other?.name ?? 'The other scenario'} is shown to compare with; choose it above to change it.`
		};
	}
	#figure(row: ViewRow, column: GridColumn): GridCell | undefined {
		const { model, calendar, layout, saved: savedRows } = this.#source;
		const show = layout.shows.get(column.key)!;
		const target = row.targets[show.entry];
		if (!target) return undefined;
		const line = this.line(target.line);
		const [value, under] = [this.#valueAt(row, show), this.#typedAt(row, show)];
		const saved = savedRows.get(row.key);
		const typed = this.#typedAt(saved, show);
		const adjusted = differs(under, value);
		const span = this.monthsOf(show);
		const month = isMonth(span) && column.span !== undefined;
		const open = span.to >= model.open && span.from <= model.last;
		const one = month && target.row !== null;
		const scope = target.row === null ? null : this.#scopeOf(line, target.row, span.from);
		const formula = one && scope ? scope.formula : line.formula;
		const blocked = target.row === null ? undefined : ownValue(model.blocked, target.row);
		const writable = one && formula === undefined && open && model.editable;
		return {
			value,
			typed: one && typeof typed === 'number' ? typed : null,
			under: one && adjusted ? under : undefined,
			at: one ? { row: cellKey(line.code, target.row!), column: calendar.key(span.from) } : undefined,
			preview: differs(value, this.#valueAt(saved, show)),
			blocked: blocked !== undefined,
			editable: writable && !blocked,
			erasable: writable && blocked !== undefined,
			spreads: !one && !blocked && this.#spreads(line, target.row !== null, span),
			format: line.format,
			reason: this.#whyNot(line, { blocked, calculated: formula !== undefined, open }),
			title: () => {
				const figure = exact(value, line.format);
				if (one && formula === undefined && !model.editable) return model.reason;
				if (one && adjusted) return `${figure} · adjusted, typed is ${exact(under, line.format)}`;
				if (formula !== undefined) {
					const exception = one && scope ? `, exception ${line.scoped!.indexOf(scope) + 1}` : '';
					return `${figure} · calculated: ${formula}${exception}`;
				}
				return month && span.from < model.open && value === null
					? 'Closed: drivers are not derived from actuals here.'
					: undefined;
			}
		};
	}
	/** Why a cell cannot be typed. */
	#whyNot(line: Line, cell: { blocked: string | undefined; calculated: boolean; open: boolean }): string {
		const { model } = this.#source;
		if (!model.editable) return model.reason;
		if (cell.blocked)
			return `The combination rule “${cell.blocked}” keeps data out of here; what is there can be taken out with Delete.`;
		if (cell.calculated)
			return `${line.label} is calculated and cannot be typed; Enter on its formula opens it.`;
		return cell.open
			? 'These are several cells together and cannot be typed; type into those under it.'
			: `This is outside the ${this.#source.calendar.words.many} that can be planned and cannot be typed.`;
	}
	/** A total can be typed where it is a sum of what can be typed. */
	#spreads(line: Line, single: boolean, { from, to }: Span): boolean {
		const { model } = this.#source;
		if (!model.editable || line.formula !== undefined || line.scoped?.length) return false;
		if (!single && line.rollup.members !== 'sum') return false;
		return (from === to || line.rollup.time === 'sum') && to >= model.open && from <= model.last;
	}
	/** The exception of a line that applies in a cell. */
	#scopeOf(line: Line, row: string, period: number): ScopedFormula | null {
		if (!line.scoped?.length) return null;
		const { definition } = this.#source.model;
		const members = row.split(ROW_SEPARATOR);
		return scopeAt(line, period, this.#source.calendar, (where) =>
			Object.entries(where).every(([dimension, under]) => {
				const member = members[definition.dimensions.indexOf(dimension)];
				return member !== undefined && this.#groups.get(dimension)?.get(member)?.has(under) === true;
			})
		);
	}
	#valueAt(row: ViewRow | undefined, show: Shows): Cell {
		return row?.cells[this.#place(show)] ?? null;
	}
	#typedAt(row: ViewRow | undefined, show: Shows): Cell {
		return (row?.typed ?? row?.cells)?.[this.#place(show)] ?? null;
	}
	#place({ entry, span }: Shows): number {
		return entry * this.#source.model.spans.length + span;
	}
}

/** Means of other weights may differ in their last digit and say the same. */
const differs = (a: Cell, b: Cell) =>
	typeof a === 'number' && typeof b === 'number'
		? Math.abs(a - b) > 1e-12 * Math.max(Math.abs(a), Math.abs(b))
		: a !== b;
