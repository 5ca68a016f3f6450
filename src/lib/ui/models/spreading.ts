/** Gathers the cells that totals of a driver model are made of, for what is typed into the totals to be spread into them. */
import { ownValue } from '../../core/text';
import type { Calendar, Period } from '../../core/calendar/calendar';
import { yearBefore } from '../../core/calendar/last-year';
import type { Span } from '../../core/calendar/spans';
import type { Cell } from '../../core/engine/values';
import type { Line, ModelDefinition } from '../../core/blocks/driver-model/schema';
import { EACH_ROW, LINES, type Arrangement } from '../../core/views/arrangement';
import type { ModelFigures, ViewRow } from '../../core/views/model-view';
import { get } from '../kit/api';
import type { Edit } from '../grid/editing/edits.svelte';
import { CannotSpread, LAST_YEAR, type Spread, type SpreadRow } from '../entry/spread';
import { cellKey } from '../entry/cell-key';

/** A total that is to be spread: a row under one entry across, in some months. */
export interface ModelTotal {
	view: ViewRow;
	entry: number;
	span: Span;
}
export interface ModelSpread extends Spread {
	line: Line;
	/** Ordinals. */
	periods: number[];
}
interface Page {
	scenario: string;
	calendar: Calendar;
	model: {
		definition: ModelDefinition;
		across: readonly { key: string }[];
		arrangement: Pick<Arrangement, 'where' | 'across'>;
		open: number;
		last: number;
		blocked: Readonly<Record<string, string>>;
	};
	/** What is typed in a cell and not saved. */
	edit: (place: { line: string; row: string }, period: number) => Edit | undefined;
	typed: number | null;
}
interface UnderRow {
	key: string;
	name: string;
	cells: Cell[];
	adjusted: boolean;
}

/** Rows of one line under some members over some months. @throws ApiError */
async function readUnder(
	{ calendar, model: { definition } }: Page,
	line: string,
	where: Readonly<Record<string, string>>,
	scenario: string,
	{ from, to }: Span
): Promise<UnderRow[]> {
	const query = new URLSearchParams({
		scenario,
		from: calendar.key(from),
		to: calendar.key(to),
		periods: 'model',
		rows: definition.dimensions.length ? `${LINES},${EACH_ROW}` : LINES,
		lines: line,
		open: line,
		where: Object.entries(where)
			.map(([k, v]) => `${k}:${encodeURIComponent(v)}`)
			.join(',')
	});
	const found = await get<ModelFigures>(`models/${definition.code}?${query}`);
	return found.rows.flatMap((r) => {
		const key = r.targets[0]?.row;
		const leaf = definition.dimensions.length ? r.depth === 1 : true;
		// What is typed is changed, whatever adjustments make of it.
		return leaf && key !== null && key !== undefined
			? [{ key, name: r.label, cells: r.typed ?? r.cells, adjusted: r.typed !== undefined }]
			: [];
	});
}

/** Filters, narrowed to the members of a row and of what stands across. */
function under({ arrangement, across }: Page['model'], { view, entry }: ModelTotal): Record<string, string> {
	const member = across[entry].key;
	return {
		...arrangement.where,
		...view.where,
		...(arrangement.across && arrangement.across !== LINES && member ? { [arrangement.across]: member } : {})
	};
}

/** @throws CannotSpread when they are of several lines, or of none; ApiError */
export async function gatherRows(wanted: readonly ModelTotal[], page: Page): Promise<ModelSpread> {
	const { model, calendar } = page;
	const targetOf = ({ view, entry }: ModelTotal) => view.targets[entry];
	const code = wanted[0] && targetOf(wanted[0])?.line;
	const line = model.definition.lines.find((l) => l.code === code);
	if (!line || wanted.some((w) => targetOf(w)?.line !== line.code))
		throw new CannotSpread('Cells of one line can be changed together. Choose cells of one line.');
	const window = {
		from: Math.min(...wanted.map((w) => w.span.from)),
		to: Math.max(...wanted.map((w) => w.span.to))
	};
	const found = new Map<string, { row: UnderRow; months: Set<number> }>();
	// Cells of one row or of the same members are read at once.
	const groups = new Map<string, ModelTotal[]>();
	for (const w of wanted) {
		const key = `${w.view.key}/${w.entry}`;
		groups.set(key, [...(groups.get(key) ?? []), w]);
	}
	for (const group of groups.values()) {
		const single = targetOf(group[0])!.row;
		for (const row of await readUnder(page, line.code, under(model, group[0]), page.scenario, window)) {
			if (single !== null && row.key !== single) continue;
			const { months } = found.get(row.key) ?? { months: new Set<number>() };
			found.set(row.key, { row, months });
			for (const { span } of group) for (let p = span.from; p <= span.to; p++) months.add(p);
		}
	}
	const taking = [...found.values()];
	const periods = [...new Set(taking.flatMap(({ months }) => [...months]))].sort((a, b) => a - b);
	const rows = taking.map(({ row, months }): SpreadRow => ({
		key: cellKey(line.code, row.key),
		name: row.name,
		cells: periods.map((period) => {
			const cell = row.cells[period - window.from];
			const before = typeof cell === 'number' ? cell : null;
			const edit = page.edit({ line: line.code, row: row.key }, period);
			return {
				column: calendar.key(period),
				label: calendar.shortLabel(period),
				value: edit ? edit.value : before,
				before,
				open:
					period >= model.open &&
					period <= model.last &&
					months.has(period) &&
					!ownValue(model.blocked, row.key)
			};
		})
	}));
	const [first, last] = [calendar.label(periods[0]), calendar.label(periods.at(-1)!)];
	const name =
		wanted.length === 1 && wanted[0].view.heads === null
			? `${line.label}, ${wanted[0].view.label}`
			: line.label;
	return {
		title: `${name}, ${first}${first === last ? '' : ` – ${last}`}`,
		typed: page.typed,
		line,
		format: line.format,
		rows,
		periods,
		hint: taking.some(({ row }) => row.adjusted)
			? 'Adjustments lie over some of these cells: what is spread here is what they start from.'
			: ''
	};
}

/** The same rows and months in another scenario, or a year ago in this one. @throws ApiError */
export async function shapeOfRows(
	{ line, rows, periods }: ModelSpread,
	scenario: string,
	page: Page
): Promise<(number | null)[][]> {
	const ago = scenario === LAST_YEAR;
	const at = (period: Period) => (ago ? yearBefore(page.calendar, period) : period);
	const from = at(periods[0]);
	const there = await readUnder(
		page,
		line.code,
		page.model.arrangement.where,
		ago ? page.scenario : scenario,
		{ from, to: at(periods.at(-1)!) }
	);
	const by = new Map(there.map((r) => [cellKey(line.code, r.key), r.cells]));
	return rows.map((r) =>
		periods.map((period) => {
			const cell = by.get(r.key)?.[at(period) - from];
			return typeof cell === 'number' ? cell : null;
		})
	);
}
