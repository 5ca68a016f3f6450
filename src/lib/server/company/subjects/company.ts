/** The company itself: its name, its money, its calendar, and how far it has been closed. */
import type { Knex } from 'knex';
import { z } from 'zod';
import { calendarOf } from '../../../core/calendar/calendar-of';
import type { Period } from '../../../core/calendar/calendar';
import type { Company } from '../../../core/company/schema';
import { Refusal } from '../../platform/refusal';
import { oncePer } from '../reading';
import type { Subject } from '../subject';

const FORMAT = 1;
const FILE = 'company.json';

const CompanyFile = z.strictObject({
	format: z.literal(FORMAT),
	name: z.string().min(1),
	currency: z.string().regex(/^[A-Z]{3}$/, 'an ISO 4217 currency code such as GBP'),
	fiscalYearStart: z.int().min(1).max(12),
	decimals: z.int().min(0).max(4).default(2),
	closedThrough: z.string().nullable().default(null)
});

/** Without it nothing else can be read. */
const fileOf = oncePer((folder) => {
	const file = folder.json(FILE, CompanyFile);
	if (!file) throw folder.refusal();
	return file;
});

export const COMPANY: Subject<'company', Company> = {
	name: 'company',
	files: [
		{
			path: FILE,
			needed: true,
			says: '`format` (1), `name`, `currency` (ISO 4217), `fiscalYearStart` (1–12), `decimals`, `closedThrough` (month or null)'
		}
	],
	read(folder) {
		const { name, currency, fiscalYearStart, decimals } = fileOf(folder);
		const company: Company = {
			name,
			currency,
			calendar: { kind: 'months', fiscalStart: fiscalYearStart, dayCount: 'actual' },
			decimals
		};
		folder.calendar = calendarOf(company.calendar);
		return company;
	},
	write(company, folder) {
		folder.json(FILE, {
			format: FORMAT,
			name: company.name,
			currency: company.currency,
			fiscalYearStart: company.calendar.fiscalStart,
			decimals: company.decimals,
			closedThrough: folder.period(folder.of(CLOSED_THROUGH))
		});
	},
	async store(trx, company, held) {
		await trx('company').insert({
			id: 1,
			name: company.name,
			currency: company.currency,
			fiscal_start: company.calendar.fiscalStart,
			decimals: company.decimals,
			closed_through: held.of(CLOSED_THROUGH)
		});
	},
	load: async (db) => (await readCompanyRow(db)).company
};

/** The last closed month; null before the first. It stands in the company's own file and row. */
export const CLOSED_THROUGH: Subject<'closedThrough', Period | null> = {
	name: 'closedThrough',
	files: [],
	read(folder) {
		const { closedThrough } = fileOf(folder);
		const period = closedThrough === null ? null : folder.calendar.parse(closedThrough);
		const good = closedThrough === null || period !== null;
		folder.expect(good, FILE, undefined, 'closedThrough', 'a month such as 2026-10 was expected');
		return period;
	},
	write() {},
	async store() {},
	load: async (db) => (await readCompanyRow(db)).closedThrough
};

/** Whether a company has been loaded. */
export async function hasCompany(db: Knex): Promise<boolean> {
	return (await db('company').first('id')) !== undefined;
}

/** @throws Refusal when no company has been loaded */
export async function readCompanyRow(
	db: Knex
): Promise<{ company: Company; closedThrough: Period | null; revision: number }> {
	const row = await db('company').first();
	if (!row) throw new Refusal(409, 'No company has been loaded yet. Run: npm run company -- load <folder>');
	return {
		company: {
			name: row.name,
			currency: row.currency,
			calendar: { kind: 'months', fiscalStart: row.fiscal_start, dayCount: 'actual' },
			decimals: row.decimals
		},
		closedThrough: row.closed_through,
		revision: row.revision
	};
}
