/** What was typed, in blocks of every kind. */
import type { Knex } from 'knex';
import { periodRange, type Calendar } from '../../../../core/calendar/calendar';
import { calendarOf } from '../../../../core/calendar/calendar-of';
import { endOnto } from '../../../../core/calendar/onto';
import type { Block } from '../../../../core/blocks/block';
import { blocksOf } from '../../../../core/blocks/kinds';
import { scenarioCalendar } from '../../../../core/scenario/calendar';
import { trimBlanks, type Series } from '../../../../core/inputs/series';
import { insertMany, fromBlob, toBlob } from '../../../platform/db/bulk';
import { copyRows } from '../../../platform/db/rows';
import { blockNow } from '../../earlier';
import { tableForm } from '../../form';
import type { Reading } from '../../reading';
import type { ScenarioPart } from '../../subject';
import * as cell from '../../table';
import { structureOf } from '../dimensions';
import { heldForms } from './block-forms';
import { FORMS } from './forms';
import * as stored from '../../../platform/db/stored';

const FORM = tableForm({
	path: 'scenarios/<code>/values.csv',
	columns: {
		block: (t, calendar) => blockNow(cell.required(t, calendar)),
		line: cell.required,
		row: cell.text
	},
	says: 'then a column per period: what was typed',
	unique: ['block', 'line', 'row']
});

/** Models in periods of their own have a file each, with those as headings. */
const OWN_FORM = tableForm({
	path: 'scenarios/<code>/values/<model>.csv',
	columns: { line: cell.required, row: cell.text },
	says: 'then a column per period of the model: what was typed in one that is kept in periods of its own',
	unique: ['line', 'row']
});
const ownFile = (at: string, model: string) => `${at}/values/${model}.csv`;

export const VALUES: ScenarioPart<'series', Series[]> = {
	name: 'series',
	files: [FORM, OWN_FORM],
	travels: 'with figures',
	read(folder, at) {
		const file = `${at.folder}/values.csv`;
		const forms = at.of(FORMS);
		const blocks = blocksOf(structureOf(folder), heldForms(folder, at));
		const common = folder.table(FORM, file, { more: true });
		for (const { block, rowNumber } of common) {
			const own = forms.find((d) => d.code === block)?.calendar;
			folder.expect(
				own === undefined,
				file,
				rowNumber,
				'block',
				`the model is kept in periods of its own; its figures were expected in ${ownFile(at.folder, block)}`
			);
		}
		const own = scenarioCalendar(folder.calendar, at.scenario);
		const lastOf = (calendar: Calendar) => endOnto(calendar, folder.calendar, at.scenario.last);
		const found = readValues(folder, file, common, own, lastOf(own), blocks);
		for (const { code, calendar: own } of forms) {
			const file = ownFile(at.folder, code);
			if (!own || !folder.files.has(file)) continue;
			const calendar = calendarOf(own);
			const rows = folder.table(OWN_FORM, file, { more: true }).map((r) => ({ ...r, block: code }));
			found.push(...readValues(folder, file, rows, calendar, lastOf(calendar), blocks));
		}
		return found;
	},
	write(series, at, folder) {
		const forms = new Map(at.of(FORMS).map((d) => [d.code, d]));
		const common = series.filter((s) => !forms.get(s.block)?.calendar);
		if (common.length) {
			const { periods, rows } = inColumns(common);
			const { key } = scenarioCalendar(folder.calendar, at.scenario);
			folder.table(FORM, rows, `${at.folder}/values.csv`, periods.map(key));
		}
		for (const { code, calendar } of forms.values()) {
			const own = calendar ? series.filter((s) => s.block === code) : [];
			if (!own.length) continue;
			const { periods, rows } = inColumns(own);
			folder.table(OWN_FORM, rows, ownFile(at.folder, code), periods.map(calendarOf(calendar!).key));
		}
	},
	store: insertSeries,
	load: readSeries,
	copy: (trx, from, to) => copyRows(trx, 'series', ['block', 'line', 'row', 'first', 'data'], from, to)
};

/** Puts series into a scenario that has none for their cells. */
export async function insertSeries(
	trx: Knex.Transaction,
	scenario: string,
	series: Iterable<Series>
): Promise<void> {
	await insertMany(
		trx,
		'series',
		['scenario', 'block', 'line', 'row', 'first', 'data'],
		Array.from(series, (s) => [scenario, s.block, s.line, s.row, s.first, toBlob(s.values)])
	);
}

export async function readSeries(db: Knex, scenario: string): Promise<Series[]> {
	const rows = await stored.many(
		{ block: 'text', line: 'text', row: 'text', first: 'number', data: 'bytes' },
		db('series').where({ scenario }).orderBy(['block', 'line', 'row'])
	);
	return rows.map((r) => ({
		block: r.block,
		line: r.line,
		row: r.row,
		first: r.first,
		values: fromBlob(r.data)
	}));
}

interface ValuesRow {
	block: string;
	line: string;
	row: string;
	rowNumber: number;
	more: Record<string, string>;
}

/** Typed values from rows with a column per period of a calendar, which `last` ends. */
function readValues(
	folder: Reading,
	file: string,
	rows: readonly ValuesRow[],
	calendar: Calendar,
	last: number,
	blocks: ReadonlyMap<string, Block>
): Series[] {
	if (!rows.length) return [];
	const periods = Object.keys(rows[0].more).map((heading) => {
		const p = calendar.parse(heading);
		folder.expect(p !== null, file, 1, heading, `${cell.aPeriod(calendar)} was expected as heading`);
		folder.expect(p === null || p <= last, file, 1, heading, `the scenario ends with ${calendar.key(last)}`);
		return p ?? 0;
	});
	const inOrder = periods.every((p, i) => p === periods[0] + i);
	const gaps = `the ${calendar.words.many} must follow one another without gaps`;
	if (!folder.expect(inOrder, file, 1, 'block', gaps)) return [];
	return rows.map((r) => {
		const block = blocks.get(r.block);
		const faults = block
			? block.typingFaults(r.line, r.row)
			: [{ column: 'line', message: `there is no line “${r.line}” in a model “${r.block}”` }];
		folder.faults.push(...faults.map((f) => ({ file, row: r.rowNumber, ...f })));
		const values = Float64Array.from(Object.entries(r.more), ([heading, text]) => {
			if (text === '') return NaN;
			try {
				return cell.decimal(text, calendar);
			} catch (expected) {
				folder.faults.push({
					file,
					row: r.rowNumber,
					column: heading,
					message: `“${text}” was found; ${expected} was expected`
				});
				return NaN;
			}
		});
		return { block: r.block, line: r.line, row: r.row, ...trimBlanks(periods[0], values) };
	});
}

/** Series as rows with a column for every period that one of them has. */
function inColumns(series: readonly Series[]) {
	const first = Math.min(...series.map((s) => s.first));
	const last = Math.max(...series.map((s) => s.first + s.values.length - 1));
	const periods = periodRange(first, last);
	const rows = series.map((s) => ({
		block: s.block,
		line: s.line,
		row: s.row,
		more: periods.map((p) => {
			const v = s.values[p - s.first];
			return v === undefined || Number.isNaN(v) ? null : v;
		})
	}));
	return { periods, rows };
}
