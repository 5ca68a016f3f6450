/** What stands in the cells of a plan's grid: saved, as it would be with what is typed, and beside another scenario. */
import { glyphsOf, type CellMark } from '../entry/glyphs';
import { gapTo } from '../../core/analysis/targets';
import type { Calendar } from '../../core/calendar/calendar';
import type { Span } from '../../core/calendar/spans';
import type { Cell } from '../../core/engine/values';
import type { PlanRow } from '../../core/views/plan-rows';
import { besideKey, besideValue, less } from '../entry/beside';
import { exact, share } from '../writing/format';
import { isMonth, spanColumn } from '../grid/columns';
import type { EditBatch } from '../grid/editing/edits.svelte';
import type { GridCell, GridColumn, GridRow } from '../grid/types';
import { originWords, hasBasis, type Names } from './basis';
import { acrossOf } from './columns';
import { cellRow, figuresOf, partKey } from './rows';
import type { Right } from './parts.svelte';

interface Mark extends CellMark {
	line: string;
	period: number;
}
type Rows = ReadonlyMap<string, PlanRow>;

/** What they are made from; asked anew whenever it changes. Months are ordinals, rows by account and department. */
export interface PlanCellsSource {
	readonly plan: {
		rows: PlanRow[];
		open: number;
		last: number;
		right: Right;
		plans: boolean;
		target: { name: string } | null;
		marks: readonly Mark[];
	} | null;
	/** The department shown. */
	readonly department: { code: string; leaf: boolean };
	readonly calendar: Calendar;
	readonly window: Span;
	readonly spans: readonly Span[];
	readonly quarters: readonly Span[];
	readonly edits: EditBatch;
	/** Rows of departments under the one shown, as far as they are read. */
	readonly parts: { rows: Rows; rights: ReadonlyMap<string, Right> };
	/** Rows that would be other with what is typed, and whether all that is typed is in them. */
	readonly preview: { rows: Rows; current: boolean };
	readonly other: { name: string; last: number; rows: Rows | null; difference: boolean } | undefined;
	readonly names: Names;
	/** Whether a figure that a driver model gives leads there. */
	readonly leads: boolean;
}

export class PlanCells {
	readonly #source: PlanCellsSource;
	readonly #own: Rows = $derived.by(
		() => new Map((this.#source.plan?.rows ?? []).map((r) => [r.account, r]))
	);
	/** Groups of accounts in which all are of one type: their sum can be spread. */
	readonly #alike = $derived.by(() => {
		const rows = this.#source.plan?.rows ?? [];
		const found = new Set<string>();
		for (const [i, group] of rows.entries()) {
			const end = rows.findIndex((r, j) => j > i && r.depth <= group.depth);
			const under = rows.slice(i + 1, end < 0 ? undefined : end);
			if (group.type !== 'statistical' && group.type !== 'rate' && under.every((r) => r.type === group.type))
				found.add(group.account);
		}
		return found;
	});
	readonly #marks = $derived.by(
		() => new Map((this.#source.plan?.marks ?? []).map((m) => [`${m.line}/${m.period}`, m]))
	);

	constructor(source: PlanCellsSource) {
		this.#source = source;
	}

	/** The saved figures of an account in a department, as far as they are read. */
	row(account: string, department: string): PlanRow | undefined {
		const { parts, department: shown } = this.#source;
		return department === shown.code ? this.#own.get(account) : parts.rows.get(partKey(account, department));
	}
	/** The saved figures of a row of the grid. */
	rowOf(key: string): PlanRow | undefined {
		const place = figuresOf(key, this.#source.department.code);
		return place ? this.row(place.account, place.department) : undefined;
	}
	words(row: PlanRow): string {
		return originWords(row.origin, this.#source.names);
	}
	/** Whether a basis is chosen for it here. */
	choosesBasis(row: PlanRow): boolean {
		return row.origin?.kind === 'basis' && this.#rightTo(row.department).editable;
	}

	at(gridRow: GridRow, column: GridColumn): GridCell | undefined {
		const row = this.rowOf(gridRow.key);
		if (!row) return undefined;
		const beside = besideKey(column.key);
		if (beside !== null) return this.#beside(row, column, beside);
		if (column.span)
			return isMonth(column.span) ? this.#month(row, column.span.from) : this.#quarter(row, column.span);
		const across = acrossOf(column);
		if (across !== undefined) {
			const part = this.row(row.account, across);
			return part ? this.#total(part) : { value: null };
		}
		return this.#summary(row, column.key);
	}

	/** The columns that say something of the whole window. */
	#summary(row: PlanRow, key: string): GridCell | undefined {
		const total = this.#total(row);
		switch (key) {
			case 'shape':
				return { value: null, values: row.cells };
			case 'basis':
				return this.#basis(row);
			case 'total':
				return total;
			case 'lastYear':
				return { value: row.lastYear };
			case 'change':
				return { value: less(total.value, row.lastYear), preview: total.preview };
			case 'percent': {
				const [now, before] = [total.value, row.lastYear];
				const known = typeof now === 'number' && typeof before === 'number' && before !== 0;
				return { value: null, text: known ? share((now - before) / Math.abs(before)) : '' };
			}
			case 'target':
				return {
					value: row.target,
					reason: `Targets are set in ${this.#source.plan?.target?.name ?? 'another scenario'}.`
				};
			case 'gap': {
				const { gap, verdict } = gapTo(total.value, row.target, row.type);
				return {
					value: gap,
					preview: total.preview,
					tone: verdict === 'favourable' ? 'good' : verdict === 'unfavourable' ? 'bad' : undefined,
					reason: 'Plan less target; it is calculated.'
				};
			}
			case 'basisTotal':
				return { value: row.basisTotal };
			case 'over':
				return {
					value: row.basisTotal === null ? null : less(total.value, row.basisTotal),
					preview: total.preview
				};
		}
		return undefined;
	}
	#basis(row: PlanRow): GridCell {
		const words = this.words(row);
		const [chooses, leads] = [this.choosesBasis(row), row.origin?.kind === 'posted' && this.#source.leads];
		const how = chooses ? '. Press Enter to change it.' : leads ? '. Press Enter to go there.' : '';
		return {
			value: null,
			text: words,
			action: chooses || leads,
			title: row.origin ? words + how : undefined
		};
	}
	#beside(row: PlanRow, column: GridColumn, key: string): GridCell {
		const { other, window } = this.#source;
		const theirs = other?.rows?.get(partKey(row.account, row.department));
		const [a, b] = [this.#valueAt(row, key), this.#valueAt(theirs, key)];
		return {
			value: other?.rows ? besideValue(a, b, other.difference, column.span ?? window, other) : null,
			reason: `${other?.name ?? 'The other scenario'} is shown to compare with; choose it above to change it.`
		};
	}
	/** What stands in a column of months or the total. */
	#valueAt(row: PlanRow | undefined, key: string): Cell {
		if (!row) return null;
		if (key === 'total') return row.total;
		const { calendar, spans, quarters, window } = this.#source;
		const span = spans.find((s) => spanColumn(calendar, s, 0).key === key)!;
		return isMonth(span)
			? row.cells[span.from - window.from]
			: row.quarters[quarters.findIndex((q) => q.from === span.from)];
	}
	#quarter(row: PlanRow, span: Span): GridCell {
		const at = this.#source.quarters.findIndex((q) => q.from === span.from);
		return {
			...this.#sum(row, (r) => r.quarters[at], span),
			spreads: this.#spreadable(row) && this.isOpen(span.to)
		};
	}
	#total(row: PlanRow): GridCell {
		const { window, plan } = this.#source;
		return {
			...this.#sum(row, (r) => r.total, window),
			spreads: this.#spreadable(row) && window.to >= plan!.open
		};
	}
	#month(row: PlanRow, period: number): GridCell {
		const { window, preview, calendar, department } = this.#source;
		const whyNot = this.#whyNot;
		const i = period - window.from;
		const shown = preview.rows.get(partKey(row.account, row.department));
		const value = (shown ?? row).cells[i];
		const typed = row.typed?.[i] ?? null;
		const own = row.typed !== null;
		return {
			value,
			typed,
			under: typed !== null && typed !== row.cells[i] ? typed : undefined,
			without: shown?.cells[i],
			at: { row: cellRow(row.account, row.department, department.code), column: calendar.key(period) },
			preview: value !== row.cells[i],
			editable: own && this.#rightTo(row.department).editable && this.isOpen(period),
			spreads: !own && this.#spreadable(row) && this.isOpen(period),
			override: typed !== null && hasBasis(row.origin),
			glyphs: department.leaf ? this.#glyphs(row.account, period) : undefined,
			// Words are put together when somebody asks for them.
			title: () => this.#monthTitle(row, period, value),
			get reason() {
				return whyNot(row, period);
			}
		};
	}
	#monthTitle(row: PlanRow, period: number, value: Cell): string | undefined {
		if (row.typed === null) return undefined;
		if (period < this.#source.plan!.open) return `${exact(value, row.format)} · closed`;
		const right = this.#rightTo(row.department);
		if (!right.editable) return right.reason;
		return row.origin?.kind === 'posted'
			? `${exact(value, row.format)} · from ${this.words(row)}`
			: undefined;
	}
	/** Why a month cannot be typed. */
	readonly #whyNot = (row: PlanRow, period: number): string => {
		const { plan, calendar } = this.#source;
		const right = this.#rightTo(row.department);
		if (row.typed === null) {
			if (!plan!.plans) return plan!.right.reason;
			// A department that is shown in another currency than its own.
			if (row.origin !== null && !right.editable) return right.reason;
			const parts = row.leaf ? 'departments' : 'accounts';
			if (!row.open)
				return `A total of the ${parts} under it. They have their figures from driver models, or cannot be planned now; unfold it and type into one, or change the driver model.`;
			return `A total of the ${parts} under it; type into ${this.#spreadable(row) ? 'it alone to spread it, or into those' : 'those'}.`;
		}
		if (!right.editable) return right.reason;
		return `${calendar.longLabel(period)} ${period < plan!.open ? 'is closed' : `is beyond the scenario’s last ${calendar.words.one}`} and cannot be typed.`;
	};
	#glyphs(account: string, period: number): GridCell['glyphs'] {
		return glyphsOf(this.#marks.get(`${account}/${period}`));
	}

	isOpen = (period: number): boolean => {
		const { open, last } = this.#source.plan!;
		return period >= open && period <= last;
	};
	#rightTo(department: string): Right {
		const { plan, parts, department: shown } = this.#source;
		return department === shown.code
			? plan!.right
			: (parts.rights.get(department) ?? { editable: false, reason: 'This row is still being read.' });
	}
	/** Whether a total can be typed into. What a driver model posts is changed there. */
	#spreadable(row: PlanRow): boolean {
		return (
			this.#source.plan!.plans &&
			row.sums &&
			row.open &&
			(row.leaf || this.#alike.has(row.account)) &&
			(row.origin === null || this.#rightTo(row.department).editable)
		);
	}
	/** Months of a row together, as saved or as they would be. */
	#sum(row: PlanRow, of: (row: PlanRow) => Cell, span: Span): { value: Cell; preview: boolean } {
		const { preview } = this.#source;
		const quick = preview.current ? null : this.#typedSum(row, span);
		const value = quick ?? of(preview.rows.get(partKey(row.account, row.department)) ?? row);
		return { value, preview: value !== of(row) };
	}
	/**
	 * Months of a row with what is typed and not saved, until the preview says it with all that rests on it; null where
	 * only that can tell what a basis gives.
	 */
	#typedSum(row: PlanRow, { from, to }: Span): number | null {
		const { edits, department, calendar, window } = this.#source;
		if (!row.leaf || !row.sums || !row.typed) return null;
		const own = cellRow(row.account, row.department, department.code);
		const by = new Map(edits.list.filter((e) => e.row === own).map((e) => [e.column, e.value]));
		if (!by.size) return null;
		let [sum, changed] = [0, false];
		for (let p = from; p <= to; p++) {
			const typed = by.get(calendar.key(p));
			if (typed === null) return null;
			if (typed !== undefined) changed = true;
			const cell = row.cells[p - window.from];
			sum += typed ?? (typeof cell === 'number' ? cell : 0);
		}
		return changed ? sum : null;
	}
}
