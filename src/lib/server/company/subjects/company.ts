/** The company itself: its name, its money, its calendar, and how far it has been closed. */
import type { Knex } from 'knex';
import { z } from 'zod';
import { calendarOf } from '../../../core/calendar/calendar-of';
import { CalendarSpec } from '../../../core/calendar/spec';
import type { Period } from '../../../core/calendar/calendar';
import { Module } from '../../../core/company/modules';
import type { Company } from '../../../core/company/schema';
import { Refusal } from '../../platform/refusal';
import { oncePer } from '../reading';
import type { Subject } from '../subject';
import { aPeriod } from '../table';
import * as stored from '../../platform/db/stored';

const FORMAT = 2;
export const FILE = 'company.json';

const Common = {
	name: z.string().min(1),
	currency: z.string().regex(/^[A-Z]{3}$/, 'an ISO 4217 currency code such as GBP'),
	decimals: z.int().min(0).max(4).default(2),
	off: z.array(Module).default([]),
	closedThrough: z.string().nullable().default(null)
};
const CompanyFile = z.discriminatedUnion('format', [
	/** Of versions that knew years of twelve months alone. */
	z
		.strictObject({ format: z.literal(1), ...Common, fiscalYearStart: z.int().min(1).max(12) })
		.transform(({ fiscalYearStart, ...rest }) => ({
			...rest,
			calendar: { kind: 'months' as const, fiscalStart: fiscalYearStart, dayCount: 'actual' as const }
		})),
	z.strictObject({ format: z.literal(FORMAT), ...Common, calendar: CalendarSpec })
]);

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
			says: '`format` (2), `name`, `currency` (ISO 4217), `calendar` (see below), `decimals`, `off` (parts that are switched off, none of which may hold anything: `collecting`, `targets`, `what-ifs`, `seasonality`, `combinations`, `currencies`), `closedThrough` (a period or null)'
		}
	],
	read(folder) {
		const { name, currency, calendar, decimals, off } = fileOf(folder);
		folder.calendar = calendarOf(calendar);
		return { name, currency, calendar, decimals, off };
	},
	write(company, folder) {
		folder.json(FILE, {
			format: FORMAT,
			name: company.name,
			currency: company.currency,
			calendar: company.calendar,
			decimals: company.decimals,
			off: company.off ?? [],
			closedThrough: folder.period(folder.of(CLOSED_THROUGH))
		});
	},
	async store(trx, company, held) {
		await trx('company').insert({
			id: 1,
			name: company.name,
			currency: company.currency,
			calendar: JSON.stringify(company.calendar),
			decimals: company.decimals,
			modules_off: JSON.stringify(company.off ?? []),
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
		folder.expect(good, FILE, undefined, 'closedThrough', aPeriod(folder.calendar) + ' was expected');
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

const CompanyRow = z.object({
	name: stored.text,
	currency: stored.text,
	calendar: stored.json(CalendarSpec),
	decimals: stored.whole,
	modules_off: stored.json(z.array(Module)),
	closed_through: stored.wholeOrNone,
	revision: stored.whole
});

/** @throws Refusal when no company has been loaded */
export async function readCompanyRow(
	db: Knex
): Promise<{ company: Company; closedThrough: Period | null; revision: number }> {
	const row = await stored.row(CompanyRow, db('company').first());
	if (!row) throw new Refusal(409, 'No company has been loaded yet. Run: npm run company -- load <folder>');
	return {
		company: {
			name: row.name,
			currency: row.currency,
			calendar: row.calendar,
			decimals: row.decimals,
			off: row.modules_off
		},
		closedThrough: row.closed_through,
		revision: row.revision
	};
}
