/** Exchange rates in named sets. */
import type { Knex } from 'knex';
import { z } from 'zod';
import { periodRange, type Period } from '../../../core/calendar/calendar';
import { RATE_KINDS, type CurrencyRates, type RateSet } from '../../../core/currency/rates';
import { valueAt, withValues } from '../../../core/inputs/series';
import { readOnce, type Tables } from '../../platform/db/kept';
import { fromBlob, insertMany, toBlob } from '../../platform/db/bulk';
import { insertRows } from '../../platform/db/rows';
import { tableForm } from '../form';
import type { Subject } from '../subject';
import * as cell from '../table';
import { COMPANY } from './company';
import * as stored from '../../platform/db/stored';

const SET_FORM = tableForm({
	path: 'rate-sets.csv',
	columns: { code: cell.code, name: cell.name, actuals: cell.yesNo },
	notes: { actuals: '`yes` for the one set that actuals, and scenarios that choose none, are translated by' },
	unique: ['code']
});
const RATE_FORM = tableForm({
	path: 'rates.csv',
	columns: {
		set: cell.required,
		currency: cell.currency,
		period: cell.period,
		average: cell.orNull(cell.rate),
		closing: cell.orNull(cell.rate)
	},
	says: 'what one unit of a currency is worth in the company’s, on average over a period and on its last day',
	unique: ['set', 'currency', 'period']
});

export const RATES: Subject<'rateSets', RateSet[]> = {
	name: 'rateSets',
	files: [SET_FORM, RATE_FORM],
	read(folder) {
		const sets = folder.table(SET_FORM);
		const rows = folder.table(RATE_FORM);
		const { currency: reporting } = folder.of(COMPANY);
		const codes = new Set(sets.map((s) => s.code));
		for (const { set, currency, rowNumber } of rows) {
			folder.expect(codes.has(set), RATE_FORM.path, rowNumber, 'set', `“${set}” is not in rate-sets.csv`);
			folder.expect(
				currency !== reporting,
				RATE_FORM.path,
				rowNumber,
				'currency',
				`${reporting} is the currency that the company reports in; its rate is 1`
			);
		}
		const forActuals = sets.filter((s) => s.actuals);
		for (const { rowNumber } of sets.length && !forActuals.length ? sets.slice(0, 1) : forActuals.slice(1))
			folder.expect(
				false,
				SET_FORM.path,
				rowNumber,
				'actuals',
				'one set has to be that of actuals, and no more than one'
			);
		return sets.map(({ code, name, actuals }) => ({
			code,
			name,
			actuals,
			rates: ratesFrom(rows.filter((r) => r.set === code))
		}));
	},
	write(sets, folder) {
		if (!sets.length) return;
		folder.table(
			SET_FORM,
			sets.map(({ code, name, actuals }) => ({ code, name, actuals }))
		);
		folder.table(
			RATE_FORM,
			sets.flatMap(({ code, rates }) =>
				rates.flatMap((own) =>
					periodsOf(own).map((p) => ({
						set: code,
						currency: own.currency,
						period: folder.period(p),
						average: valueAt(own.average, p),
						closing: valueAt(own.closing, p)
					}))
				)
			)
		);
	},
	async store(trx, sets) {
		await insertRows(trx, 'rate_set', sets.map(setToRow));
		for (const { code, rates } of sets) await storeRates(trx, code, rates);
	},
	load: readRateSets
};

/** Single rates, as rates of each currency over time. */
export function ratesFrom(
	rows: readonly { currency: string; period: Period; average: number | null; closing: number | null }[]
): CurrencyRates[] {
	const runOf = (currency: string, kind: 'average' | 'closing') =>
		withValues(
			null,
			new Map(
				rows.flatMap((r) =>
					r.currency === currency && r[kind] !== null ? [[r.period, r[kind]] as const] : []
				)
			)
		);
	return [...new Set(rows.map((r) => r.currency))].map((currency) => ({
		currency,
		average: runOf(currency, 'average'),
		closing: runOf(currency, 'closing')
	}));
}

/** Periods for which some rate is known. */
function periodsOf({ average, closing }: CurrencyRates): Period[] {
	const runs = [average, closing].filter((run) => run !== null);
	if (!runs.length) return [];
	const first = Math.min(...runs.map((r) => r.first));
	const last = Math.max(...runs.map((r) => r.first + r.values.length - 1));
	return periodRange(first, last).filter((p) => valueAt(average, p) !== null || valueAt(closing, p) !== null);
}

export const setToRow = ({ code, name, actuals }: RateSet, position: number) => ({
	code,
	name,
	actuals: actuals ? 1 : 0,
	position
});

/** Puts a set's rates in place of those that it has. */
export async function storeRates(
	trx: Knex.Transaction,
	code: string,
	rates: readonly CurrencyRates[]
): Promise<void> {
	await trx('rate').where({ rate_set: code }).delete();
	await insertMany(
		trx,
		'rate',
		['rate_set', 'currency', 'kind', 'first', 'data'],
		rates.flatMap((own) =>
			RATE_KINDS.flatMap((kind) => {
				const run = own[kind];
				return run ? [[code, own.currency, kind, run.first, toBlob(run.values)]] : [];
			})
		)
	);
}

const SetRow = z.object({ code: stored.text, name: stored.text, actuals: stored.flag });

/** Rate sets in their order, with their rates by currency. */
const RATE_TABLES: Tables = ['rate_set', 'rate'];
/** The very same as long as no rate is written; nobody changes them. */
export function readRateSets(db: Knex): Promise<RateSet[]> {
	return readOnce(db, 'rates', () => readSets(db), RATE_TABLES);
}

async function readSets(db: Knex): Promise<RateSet[]> {
	const sets = await stored.rows(SetRow, db('rate_set').orderBy('position'));
	const rows = await stored.many(
		{ rate_set: 'text', currency: 'text', kind: 'text', first: 'number', data: 'bytes' },
		db('rate').orderBy(['rate_set', 'currency', 'kind'])
	);
	return sets.map((set) => {
		const own = rows.filter((r) => r.rate_set === set.code);
		const runOf = (currency: string, kind: string) => {
			const row = own.find((r) => r.currency === currency && r.kind === kind);
			return row ? { first: row.first, values: fromBlob(row.data) } : null;
		};
		return {
			...set,
			rates: [...new Set(own.map((r) => r.currency))].map((currency) => ({
				currency,
				average: runOf(currency, 'average'),
				closing: runOf(currency, 'closing')
			}))
		};
	});
}
