/** What was typed, in blocks of every kind. */
import type { Knex } from 'knex';
import { periodRange } from '../../../../core/calendar/calendar';
import { blocksOf } from '../../../../core/blocks/kinds';
import { trimBlanks, type Series } from '../../../../core/inputs/series';
import { insertMany, fromBlob, toBlob } from '../../../platform/db/bulk';
import { copyRows } from '../../../platform/db/rows';
import { blockNow } from '../../earlier';
import { tableForm } from '../../form';
import type { ScenarioPart } from '../../subject';
import * as cell from '../../table';
import { structureOf } from '../dimensions';
import { MODELS } from '../models';
import { FORMS } from './forms';

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

export const VALUES: ScenarioPart<'series', Series[]> = {
	name: 'series',
	files: [FORM],
	travels: 'with figures',
	read(folder, at) {
		const { calendar } = folder;
		const file = `${at.folder}/values.csv`;
		const rowsOf = new Map(folder.of(MODELS).map((m) => [m.definition.code, m.rows]));
		const blocks = blocksOf(
			structureOf(folder),
			at.of(FORMS).map((definition) => ({ definition, rows: rowsOf.get(definition.code)! }))
		);
		const rows = folder.table(FORM, file, { more: true });
		if (!rows.length) return [];
		const periods = Object.keys(rows[0].more).map((heading) => {
			const p = calendar.parse(heading);
			folder.expect(p !== null, file, 1, heading, `${cell.aPeriod(calendar)} was expected as heading`);
			folder.expect(
				p === null || p <= at.scenario.last,
				file,
				1,
				heading,
				`the scenario ends with ${calendar.key(at.scenario.last)}`
			);
			return p ?? 0;
		});
		const inOrder = periods.every((p, i) => p === periods[0] + i);
		if (
			!folder.expect(
				inOrder,
				file,
				1,
				'block',
				`the ${calendar.words.many} must follow one another without gaps`
			)
		)
			return [];
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
	},
	write(series, at, folder) {
		if (!series.length) return;
		const first = Math.min(...series.map((s) => s.first));
		const last = Math.max(...series.map((s) => s.first + s.values.length - 1));
		const periods = periodRange(first, last);
		folder.table(
			FORM,
			series.map((s) => ({
				block: s.block,
				line: s.line,
				row: s.row,
				more: periods.map((p) => {
					const v = s.values[p - s.first];
					return v === undefined || Number.isNaN(v) ? null : v;
				})
			})),
			`${at}/values.csv`,
			periods.map(folder.calendar.key)
		);
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
	const rows = (await db('series').where({ scenario }).orderBy(['block', 'line', 'row'])) as {
		block: string;
		line: string;
		row: string;
		first: number;
		data: Buffer;
	}[];
	return rows.map((r) => ({
		block: r.block,
		line: r.line,
		row: r.row,
		first: r.first,
		values: fromBlob(r.data)
	}));
}
