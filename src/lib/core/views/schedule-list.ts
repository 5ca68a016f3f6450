/** Which rows of a schedule are shown, in which order, and under which headings. */
import { DIVIDED, rowValue } from '../blocks/schedule/row-changes';
import type {
	ScenarioSchedule,
	ScheduleColumn,
	ScheduleDefinition,
	ScheduleRow
} from '../blocks/schedule/schema';
import { departmentsOf } from '../blocks/schedule/shape';
import { rowWords } from '../blocks/schedule/schedule';
import type { Structure } from '../company/structure';
import { toIsoDate } from '../calendar/dates';
import type { Cell } from '../engine/values';

export interface ScheduleArrangement {
	/** Only rows that count in it or under it. */
	department: string | null;
	/** Column → words that its values contain, whatever their case; empty words ask for blanks. */
	where: Readonly<Record<string, string>>;
	/** Words that stand anywhere in a row. */
	words: string;
	/** A column, with `-` before it the other way round; null as the rows stand. */
	sort: string | null;
	/** Rows of the same value of this column stand together. */
	group: string | null;
}
export const AS_THEY_STAND: ScheduleArrangement = {
	department: null,
	where: {},
	words: '',
	sort: null,
	group: null
};

/** Rows by their places in the schedule; `heading` says what those of a group share. */
export interface ListedGroup {
	/** Empty where rows are not grouped. */
	key: string;
	heading: string;
	rows: number[];
}

/** What stands in a computed column of a row. */
export type Computed = (row: number, column: ScheduleColumn) => Cell;

/** @param was how rows stood before they were changed: what is typed moves no row away until it is saved */
export function listed(
	{ definition, rows }: ScenarioSchedule,
	structure: Structure,
	arrangement: ScheduleArrangement,
	computed: Computed,
	was: ReadonlyMap<string, ScheduleRow> = new Map()
): ListedGroup[] {
	const columns = new Map(definition.columns.map((c) => [c.code, c]));
	const words = valueWords(structure);
	const rowOf = (i: number) => was.get(rows[i].id) ?? rows[i];
	const valueOf = (i: number, column: ScheduleColumn): Cell | boolean => {
		if (column.formula === undefined) return rowValue(rowOf(i), column.code);
		const cell = computed(i, column);
		return column.kind === 'date' && typeof cell === 'number' ? toIsoDate(cell) : cell;
	};
	const divided = (i: number) =>
		(rowOf(i).shares ?? []).map((code) => words({ kind: 'department' }, code)).join('; ');
	const wordsOf = (i: number, code: string) => {
		const column = columns.get(code);
		return column ? words(column, valueOf(i, column)) : code === DIVIDED ? divided(i) : '';
	};
	const sought = arrangement.words.trim().toLowerCase();
	const filters = Object.entries(arrangement.where).filter(([code]) => columns.has(code) || code === DIVIDED);
	const kept: number[] = [];
	rows.forEach((_, i) => {
		const own = rowOf(i);
		const { department } = arrangement;
		if (
			department !== null &&
			!departmentsOf(definition, own).some((d) => structure.departments.within(d, department))
		)
			return;
		for (const [code, words] of filters) {
			const found = wordsOf(i, code).toLowerCase();
			if (words === '' ? found !== '' : !found.includes(words.toLowerCase())) return;
		}
		if (sought !== '' && !wholeText(own, i, definition, wordsOf).includes(sought)) return;
		kept.push(i);
	});
	const { sort, group } = arrangement;
	if (sort !== null) sortBy(kept, sort, columns, valueOf, words);
	if (group === null || !(columns.has(group) || group === DIVIDED))
		return [{ key: '', heading: '', rows: kept }];
	const groups = new Map<string, ListedGroup>();
	for (const i of kept) {
		const heading = wordsOf(i, group);
		const own = groups.get(heading) ?? { key: `group:${heading}`, heading: heading || 'blank', rows: [] };
		groups.set(heading, own);
		own.rows.push(i);
	}
	// What is blank stands last.
	const key = ({ key: k }: ListedGroup) => (k === 'group:' ? 1 : 0);
	return [...groups.values()].sort((a, b) => key(a) - key(b) || compared(a.heading, b.heading));
}

const compared = new Intl.Collator('en', { numeric: true, sensitivity: 'base' }).compare;

function sortBy(
	places: number[],
	sort: string,
	columns: ReadonlyMap<string, ScheduleColumn>,
	valueOf: (i: number, column: ScheduleColumn) => Cell | boolean,
	words: ReturnType<typeof valueWords>
): void {
	const down = sort.startsWith('-');
	const column = columns.get(down ? sort.slice(1) : sort);
	if (!column) return;
	const keys = new Map(places.map((i) => [i, valueOf(i, column)]));
	places.sort((a, b) => {
		const [x, y] = [keys.get(a)!, keys.get(b)!];
		// Blanks stand last, whichever way round.
		if (x === null || y === null) return Number(x === null) - Number(y === null) || a - b;
		const numbers = typeof x === 'number' && typeof y === 'number';
		const by = numbers ? x - y : compared(words(column, x), words(column, y));
		return (down ? -by : by) || a - b;
	});
}

function wholeText(
	row: ScheduleRow,
	i: number,
	definition: ScheduleDefinition,
	wordsOf: (i: number, code: string) => string
): string {
	const all = [row.id, rowWords(definition, row), ...definition.columns.map((c) => wordsOf(i, c.code))];
	return `${all.join('\n')}\n${wordsOf(i, DIVIDED)}`.toLowerCase();
}

/** What stands in a column, in words: what is chosen by its name. `kind` of departments over which a row is divided: theirs. */
export function valueWords({ accounts, departments, dimensions }: Structure) {
	return ({ kind, dimension }: Pick<ScheduleColumn, 'kind' | 'dimension'>, value: Cell | boolean): string => {
		if (value === null) return '';
		if (typeof value === 'boolean') return value ? 'yes' : 'no';
		if (typeof value === 'number') return kind === 'yes-no' ? (value ? 'yes' : 'no') : String(value);
		switch (kind) {
			case 'department':
				return departments.get(value)?.name ?? value;
			case 'account':
				return accounts.get(value)?.name ?? value;
			case 'member':
				return dimensions.get(dimension ?? '')?.members.get(value)?.name ?? value;
			default:
				return value;
		}
	};
}
