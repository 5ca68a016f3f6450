/** A new company from a few answers: its accounts, its departments, who plans it, and a first budget. */
import { LATER } from '../../core/company/modules';
import type { Knex } from 'knex';
import { z } from 'zod';
import type { Calendar } from '../../core/calendar/calendar';
import { calendarOf } from '../../core/calendar/calendar-of';
import { CalendarSpec } from '../../core/calendar/spec';
import { linesOf, MODEL_TEMPLATES } from '../../core/blocks/driver-model/templates';
import { ModelDefinition } from '../../core/blocks/driver-model/schema';
import { codeFor } from '../../core/company/code';
import { decimalsOf } from '../../core/company/currency';
import { isBalance } from '../../core/company/sign';
import type { HistoryPreview } from '../../core/company/history';
import { buildTree } from '../../core/company/tree';
import type { BasisEntry } from '../../core/inputs/basis';
import { readOutline } from '../../core/company/outline';
import type { Department } from '../../core/company/schema';
import { hashPassword, Password } from '../platform/auth/passwords';
import type { User } from '../platform/auth/sessions';
import { Refusal } from '../platform/refusal';
import { companySpan } from '../platform/settings';
import { companyOf, type CompanyData } from '../company/subjects';
import { scenarioOf } from '../company/subjects/scenarios';
import { loadCompany } from '../transfer/load';
import { CHARTS } from './charts';
import { Currency, firstRates, inEntities, named, OtherEntity, withDifference } from './entities';
import { broughtOf, type Brought, History, previewOf, readHistory } from './history';

export const Founding = z.strictObject({
	person: z.strictObject({
		name: named('your name'),
		email: z
			.string()
			.trim()
			.toLowerCase()
			.max(254)
			.regex(/^[^\s@]+@[^\s@]+$/, 'an e-mail address was expected'),
		password: Password
	}),
	company: z.strictObject({
		name: named('the company’s name'),
		currency: Currency,
		calendar: CalendarSpec
	}),
	/** A ready-made chart. */
	chart: z.enum(CHARTS.map((c) => c.code)),
	/** An outline of their names; without any the company is one department. */
	departments: z.string().max(300_000).default(''),
	entities: z.array(OtherEntity).max(50).default([]),
	/** Fiscal year of the first budget. */
	year: z.int().min(1900).max(2199),
	/** Last year's figures, from which its own accounts are made; null without any. */
	history: History.nullable().default(null),
	/** What the budget begins with: nothing, or last year's income and cost, to be typed over. */
	begins: z.enum(['empty', 'last-year']).default('empty')
});
export type Founding = z.output<typeof Founding>;

const TABLE_OF_ASSUMPTIONS = MODEL_TEMPLATES.find((t) => t.code === 'assumptions')!;

/** What has to be known to look at what is brought. */
export const HistoryAsked = z.strictObject({
	calendar: CalendarSpec,
	chart: Founding.shape.chart,
	departments: Founding.shape.departments,
	history: History
});

/** What was brought, before it is taken: its accounts, each with its place in the chart. @throws Refusal 422 */
export function lookAtHistory(asked: z.output<typeof HistoryAsked>): HistoryPreview {
	const calendar = calendarOf(asked.calendar);
	const chart = chartOf(asked.chart);
	const departments = departmentsOf('', asked.departments);
	return previewOf(readHistory(asked.history, calendar, chart, departments), calendar, chart);
}

const chartOf = (code: string) => CHARTS.find((c) => c.code === code)!.accounts;

/**
 * The company as plain data: nothing in it that could not be loaded from a folder.
 * @throws Refusal 422 for departments that make no tree, a year that cannot be planned, or figures that cannot be taken
 */
export function founded(founding: Founding): CompanyData {
	const { person, company, departments, year, history, begins } = founding;
	const { name, currency, calendar: spec } = company;
	const calendar = calendarOf(spec);
	const decimals = decimalsOf(currency);
	const chart = chartOf(founding.chart);
	const [tree, entities] = inEntities(departmentsOf(name, departments), company, founding.entities);
	const root = tree[0].code;
	const foreign = entities.some((e) => e.currency !== currency);
	const brought =
		history && broughtOf(readHistory(history, calendar, chart, tree), calendar, chart, decimals);
	const definition = ModelDefinition.parse({
		code: TABLE_OF_ASSUMPTIONS.code,
		name: TABLE_OF_ASSUMPTIONS.name,
		description: TABLE_OF_ASSUMPTIONS.description,
		dimensions: [],
		lines: linesOf(TABLE_OF_ASSUMPTIONS, currency)
	});
	return companyOf({
		company: {
			name,
			currency,
			calendar: spec,
			decimals,
			off: LATER.filter((m) => m !== 'currencies' || !foreign)
		},
		entities,
		departments: tree,
		...brought,
		accounts: foreign ? withDifference(brought?.accounts ?? chart) : (brought?.accounts ?? chart),
		rateSets: foreign ? [firstRates(founding.entities, currency, calendar, year)] : [],
		models: [{ definition, rows: [[]] }],
		scenarios: [
			scenarioOf({
				scenario: { ...budgetOf(calendar, year), owner: person.email },
				definitions: [definition],
				bases: brought && begins === 'last-year' ? basesOf(brought) : []
			})
		],
		users: [{ email: person.email, name: person.name, role: 'analyst', departments: [root], pay: true }]
	});
}

/** Each account of income or cost as last year, in every department where it has figures. */
function basesOf({ accounts, ledgerAccounts, entries }: Brought): BasisEntry[] {
	const accountOf = new Map(ledgerAccounts.map((l) => [l.code, l.account]));
	const types = new Map(accounts.map((a) => [a.code, a.type]));
	const bases = new Map<string, BasisEntry>();
	for (const { ledgerAccount, department } of entries) {
		const account = accountOf.get(ledgerAccount)!;
		if (isBalance(types.get(account)!)) continue;
		bases.set(`${account}\n${department}`, {
			account,
			department,
			basis: { kind: 'last-year', percent: 0 }
		});
	}
	return [...bases.values()];
}

function departmentsOf(company: string, text: string): Department[] {
	const code = codeFor(company, '-', [], 'company');
	const { items, faults } = readOutline(text, 'department', [code]);
	if (faults.length)
		throw new Refusal(
			422,
			'The departments cannot be taken as they are.',
			faults.map(({ line, message }) => ({ row: line, column: 'departments', message }))
		);
	return [
		{ code, name: company, parent: null, entity: code },
		...items.map((d) => ({ ...d, parent: d.parent ?? code, entity: code }))
	];
}

function budgetOf(calendar: Calendar, year: number) {
	const label = calendar.yearLabel(year);
	const [first, last] = [calendar.yearStart(year), calendar.yearStart(year + 1) - 1];
	const span = companySpan(calendar);
	if (first < span.from || last > span.to)
		throw new Refusal(422, `${label} is too far away to be planned.`, [
			{
				column: 'year',
				message: `a year from ${calendar.yearLabel(calendar.fiscalYear(span.from) + 1)} to ${calendar.yearLabel(calendar.fiscalYear(span.to) - 1)} was expected`
			}
		]);
	return {
		code: `${label.toLowerCase()}-budget`,
		name: `${label} Budget`,
		kind: 'budget' as const,
		first,
		last
	};
}

/**
 * Stores the company in an empty database, with the password of its first analyst; all or nothing.
 * @returns the analyst, and the department to begin with: the first one that has figures, or takes them
 * @throws Refusal 409 when there is a company already, 422
 */
export async function foundCompany(
	db: Knex,
	founding: Founding
): Promise<{ analyst: User; department: string }> {
	const data = founded(founding);
	const password_hash = await hashPassword(founding.person.password);
	const [analyst] = data.users;
	await db.transaction(async (trx) => {
		await loadCompany(trx, data);
		await trx('user').where({ email: analyst.email }).update({ password_hash });
	});
	const { all, isLeaf } = buildTree(data.departments);
	const leaves = all.filter((d) => isLeaf(d.code));
	const withFigures = new Set(data.entries.map((e) => e.department));
	return { analyst, department: (leaves.find((d) => withFigures.has(d.code)) ?? leaves[0]).code };
}
