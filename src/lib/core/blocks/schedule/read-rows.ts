/** Rows of a schedule from a list with headings: what it would put in and change, and what is wrong with it, and where. */
import type { Structure } from '../../company/structure';
import { scheduleRowFaults, MOST_ROWS } from './check-rows';
import { changeRows, DIVIDED, IDENTIFIER, rowValue, type RowChange } from './row-changes';
import {
	departmentColumn,
	type ColumnValue,
	type ScenarioSchedule,
	type ScheduleColumn,
	type ScheduleDefinition
} from './schema';

/** How a list writes numbers and dates. */
export interface ListHabits {
	number(text: string): number | null;
	/** ISO 8601. */
	date(text: string): string | null;
}

/** One value that the list changes, in the schedule's own words. */
export interface RowDifference {
	id: string;
	column: string;
	before: ColumnValue | null;
	after: ColumnValue | null;
}

export interface ReadRows {
	changes: RowChange[];
	/** Identifiers of rows that are new. */
	added: string[];
	differences: RowDifference[];
	/** Identifiers of rows that are there and not in the list; they stay. */
	missing: string[];
	/** By the list's own rows (1 is the heading) and headings. */
	faults: { row: number; column?: string; message: string }[];
}

const isEmpty = (cell: string) => cell === '' || cell.trim() === '';

/** A heading, without what people write differently. */
const plain = (text: string) =>
	text
		.toLowerCase()
		.replace(/[\s_-]+/g, ' ')
		.trim();

/** The columns that can stand in a list, by all their names: what a row is known by, its own, what it is divided with. */
function columnsByName(definition: ScheduleDefinition): Map<string, string> {
	const names = new Map<string, string>();
	const put = (code: string, ...all: string[]) => {
		for (const name of all) if (!names.has(plain(name))) names.set(plain(name), code);
	};
	put(IDENTIFIER, IDENTIFIER, 'identifier');
	if (definition.divided) put(DIVIDED, DIVIDED, 'Divided with');
	for (const { code, label } of definition.columns) put(code, label);
	for (const { code } of definition.columns) put(code, code);
	return names;
}

/**
 * A row of the list whose identifier is there changes it, where a cell holds something; others are added at the end.
 * @param records heading and rows @param lines where each stands in the list
 * @param ids identifiers in other schedules, which columns may name
 */
export function readRows(
	{ definition, rows }: ScenarioSchedule,
	records: readonly (readonly string[])[],
	lines: readonly number[],
	structure: Structure,
	ids: ReadonlyMap<string, ReadonlySet<string>>,
	habits: ListHabits
): ReadRows {
	const read: ReadRows = { changes: [], added: [], differences: [], missing: [], faults: [] };
	const fault = (row: number, message: string, column?: string) =>
		read.faults.push({ row, message, ...(column === undefined ? {} : { column }) });
	const [heading = []] = records;
	const names = columnsByName(definition);
	const columns = new Map(definition.columns.map((c) => [c.code, c]));
	const codes = heading.map((h) => names.get(plain(h)) ?? null);
	heading.forEach((h, i) => {
		if (h.trim() === '') return;
		const code = codes[i];
		const column = code === null ? undefined : columns.get(code);
		if (code === null) fault(1, `there is no column “${h.trim()}”`);
		else if (column?.formula !== undefined) fault(1, `“${column.label}” is worked out and takes no value`);
		else if (codes.indexOf(code) !== i) fault(1, `“${h.trim()}” stands twice`);
	});
	const at = codes.indexOf(IDENTIFIER);
	if (at < 0) fault(1, `a column “${IDENTIFIER}” is missing: it says which row each one is`);
	if (records.length - 1 > MOST_ROWS) fault(1, `${records.length - 1} rows; ${MOST_ROWS} are the most`);
	if (read.faults.length) return read;

	const texts = remembering(readers(definition, structure, habits));
	const holding = codes.flatMap((code, c): [number, string][] =>
		code === null || code === IDENTIFIER ? [] : [[c, code]]
	);
	const now = new Map(rows.map((r) => [r.id, r]));
	const lineOf = new Map<string, number>();
	for (const [i, record] of records.slice(1).entries()) {
		const line = lines[i + 1] ?? i + 2;
		if (record.every(isEmpty)) continue;
		const id = record[at]?.trim() ?? '';
		if (id === '') {
			fault(line, 'an identifier is missing', heading[at]);
			continue;
		}
		const earlier = lineOf.get(id);
		if (earlier !== undefined) {
			fault(line, `“${id}” stands in row ${earlier} too`, heading[at]);
			continue;
		}
		lineOf.set(id, line);
		const values: [string, ColumnValue][] = [];
		for (const [c, code] of holding) {
			const cell = record[c] ?? '';
			if (isEmpty(cell)) continue;
			const found = texts(code, cell.trim());
			if (typeof found === 'object') fault(line, found.message, heading[c]);
			else values.push([code, found]);
		}
		const own = now.get(id);
		if (!own) {
			read.added.push(id);
			read.changes.push({ kind: 'add', row: newRow(definition, id, values) });
			continue;
		}
		for (const [column, after] of values) {
			const before = rowValue(own, column);
			if (before === after) continue;
			read.differences.push({ id, column, before, after });
			read.changes.push({ kind: 'set', id, column, before, value: after });
		}
	}
	read.missing = rows.filter((r) => !lineOf.has(r.id)).map((r) => r.id);
	if (read.faults.length) return read;
	const next = changeRows(rows, read.changes).rows;
	for (const { row, column, message } of scheduleRowFaults(definition, next, structure, ids))
		fault(lineOf.get(next[row].id) ?? 1, message, columns.get(column ?? '')?.label ?? undefined);
	return read;
}

/** With what is usual where the list says nothing. */
function newRow(
	{ columns }: ScheduleDefinition,
	id: string,
	values: readonly [string, ColumnValue][]
): Extract<RowChange, { kind: 'add' }>['row'] {
	const usual = columns.flatMap((c): [string, ColumnValue][] =>
		c.formula === undefined && c.default !== undefined ? [[c.code, c.default]] : []
	);
	const shares = values.find(([code]) => code === DIVIDED)?.[1];
	return {
		id,
		values: Object.fromEntries([...usual, ...values.filter(([code]) => code !== DIVIDED)]),
		...(shares === undefined ? {} : { shares: String(shares).split(';') })
	};
}

type Reader = (code: string, text: string) => ColumnValue | { message: string };

/** Most of what stands in a column stands there again and again. */
function remembering(read: Reader): Reader {
	const known = new Map<string, Map<string, ReturnType<Reader>>>();
	return (code, text) => {
		const own = known.get(code) ?? new Map<string, ReturnType<Reader>>();
		known.set(code, own);
		const found = own.get(text) ?? read(code, text);
		own.set(text, found);
		return found;
	};
}

const YES = new Set(['yes', 'y', 'true', 'x', '1']);
const NO = new Set(['no', 'n', 'false', '0']);

/** Reads a cell of a column; a message where it cannot be. */
function readers(definition: ScheduleDefinition, structure: Structure, { number, date }: ListHabits): Reader {
	const columns = new Map(definition.columns.map((c) => [c.code, c]));
	const kept = new Map<string, Map<string, string>>();
	/** Codes by what people call them, a code before a name. */
	const byName = (key: string, all: readonly { code: string; name: string }[]) => {
		let found = kept.get(key);
		if (!found) {
			found = new Map(all.map((x) => [plain(x.name), x.code]));
			for (const { code } of all) found.set(plain(code), code);
			kept.set(key, found);
		}
		return found;
	};
	const { departments, accounts, dimensions } = structure;
	const leaves = () => departments.all.filter((d) => departments.isLeaf(d.code));
	const chosen = (column: ScheduleColumn, text: string): string => {
		switch (column.kind) {
			case 'department':
				return byName('department', leaves()).get(plain(text)) ?? text;
			case 'account':
				return byName('account', accounts.all).get(plain(text)) ?? text;
			case 'member': {
				const own = dimensions.get(column.dimension ?? '')?.members.all ?? [];
				return byName(`member ${column.dimension}`, own).get(plain(text)) ?? text;
			}
			case 'pick':
				return column.choices?.find((c) => plain(c) === plain(text)) ?? text;
			default:
				return text;
		}
	};
	return (code, text) => {
		const column = columns.get(code);
		if (!column) {
			const department = departmentColumn(definition);
			const parts = text.split(';').map((t) => t.trim());
			return parts
				.filter(Boolean)
				.map((t) => (department ? chosen(department, t) : t))
				.join(';');
		}
		switch (column.kind) {
			case 'number':
			case 'money':
				return number(text) ?? { message: `“${text}” is no number` };
			case 'percent': {
				const share = /^(.*?)\s*%$/.exec(text);
				const value = number(share ? share[1] : text);
				if (value === null) return { message: `“${text}” is no percentage` };
				return share ? Number((value / 100).toPrecision(15)) : value;
			}
			case 'date':
				return date(text) ?? { message: `“${text}” is no date such as 2027-01-31` };
			case 'yes-no': {
				const word = text.toLowerCase();
				if (YES.has(word) || NO.has(word)) return YES.has(word);
				return { message: `“${text}” is neither yes nor no` };
			}
			default:
				return chosen(column, text);
		}
	};
}
