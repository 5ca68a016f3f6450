/** Writes the demo company, Kelpwick Boatworks, as a company folder, and October's ledger file beside it. */
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { monthCalendar } from '../src/lib/core/calendar/calendar';
import type { AdjustmentDefinition } from '../src/lib/core/inputs/schema';
import type { Plan } from '../src/lib/core/scenario/plan';
import type { Scenario } from '../src/lib/core/scenario/schema';
import { companyOf, type CompanyData, storeCompany, writeCompany } from '../src/lib/server/company/subjects';
import type { Entry } from '../src/lib/server/company/subjects/entries';
import { scenarioOf, type ScenarioRecord } from '../src/lib/server/company/subjects/scenarios';
import type { SubmissionEvent, SubmissionRecord } from '../src/lib/server/company/subjects/rounds';
import { writeFolder } from '../src/lib/server/transfer/folder';
import { writeTable } from '../src/lib/server/company/table';
import { openDatabase } from '../src/lib/server/platform/db/connect';
import { planOf } from '../src/lib/server/scenarios/plans';
import { departmentFigures } from '../src/lib/server/rounds/submissions';
import { chart } from './chart';
import { ledger, NEW_ACCOUNT, OCT26 } from './ledger';
import * as models from './models';
import { ASSETS, assets } from './assets';
import { CONTRACTS, contracts } from './contracts';
import { chargedTo, departments, dimensions, entities, LEDGER_TAGS, users } from './people';
import { rateSets } from './rates';
import { rules } from './rules';
import { bases, inputs, REGIONS, rows, type Outlook } from './plans';
import { COMMISSIONS, PENSION, STAFF, staff } from './staff';
import { targets } from './targets';

const calendar = monthCalendar(4);
const APR26 = 2026 * 12 + 3;
const MAR27 = APR26 + 11;
const SEP26 = OCT26 - 1;
const tables = [models.payRises, models.taxes, models.benefitPlans];
const definitions = [models.assumptions, models.boatSales, models.club, models.visits, ...tables];

function scenario(
	scenario: Scenario & { folder: string },
	outlook: Omit<Outlook, 'first' | 'last'>,
	entries: ReturnType<typeof ledger>,
	rise: number,
	adjustments: AdjustmentDefinition[] = []
): ScenarioRecord {
	// What was known when this year's budget was made, and since.
	const planned = outlook.staff.some((r) => r.values.open_post === true);
	const posted = new Set([
		...contracts(planned).map((r) => `${r.values.account} ${r.values.department}`),
		...assets(planned).map((r) => `${chargedTo(String(r.values.class))} ${r.values.department}`),
		...outlook.staff
			.filter((r) => r.values.benefit_plan !== undefined)
			.map((r) => `${PENSION} ${r.values.department}`),
		...outlook.staff
			.filter((r) => r.values.commission_on !== undefined)
			.map((r) => `${COMMISSIONS} ${r.values.department}`)
	]);
	return scenarioOf({
		scenario: {
			...scenario,
			visibility: 'all',
			people: [],
			owner: 'maren.holt@kelpwick.example',
			target: null
		},
		definitions,
		scheduleForms: [STAFF, CONTRACTS, ASSETS],
		scheduleRows: [
			{ schedule: STAFF.code, rows: [...outlook.staff] },
			{ schedule: CONTRACTS.code, rows: contracts(planned) },
			{ schedule: ASSETS.code, rows: assets(planned) }
		],
		series: inputs({ ...outlook, first: scenario.first, last: scenario.last }),
		bases: bases(entries, rise, posted),
		adjustments
	});
}

/** Three things that could be done, each to be switched on and off. */
const whatIf: AdjustmentDefinition[] = [
	{
		code: 'kayak-prices',
		name: 'Kayak list prices +5 % from March',
		on: true,
		steps: [
			{
				operation: 'multiply',
				value: 1.05,
				lines: [{ block: 'boat_sales', line: 'list_price' }],
				where: { product: 'kayaks' },
				from: '2027-03'
			}
		],
		adopted: null
	},
	{
		code: 'lakes-recover',
		name: 'Dealers on the Lakes recover',
		on: true,
		steps: [
			{
				operation: 'multiply',
				value: 1.4,
				lines: [{ block: 'boat_sales', line: 'units' }],
				where: { product: 'kayaks', channel: 'dealer', region: 'lakes' },
				from: '2026-12'
			}
		],
		adopted: null
	},
	{
		code: 'freight-contract',
		name: 'New freight contract',
		on: true,
		steps: [
			{
				operation: 'multiply',
				value: 0.92,
				lines: [{ block: 'accounts', line: '5050' }],
				where: {},
				from: '2027-01'
			}
		],
		adopted: null
	}
];

/** Kelpwick with its ledger closed through September 2026, and October's entries, which wait to be loaded. */
export async function kelpwick(): Promise<{ data: CompanyData; october: Entry[] }> {
	const months = ledger();
	const { accounts, ledger: ledgerAccounts } = chart();
	const history = months.filter((m) => m.period <= SEP26);
	const budgetHistory = months.filter((m) => m.period < APR26);
	const data: CompanyData = companyOf({
		company: {
			name: 'Kelpwick Boatworks',
			currency: 'GBP',
			calendar: { kind: 'months', fiscalStart: 4, dayCount: 'actual' },
			decimals: 2
		},
		closedThrough: SEP26,
		accounts,
		ledgerAccounts,
		entities,
		departments,
		dimensions,
		models: [
			{ definition: models.assumptions, rows: [] },
			{ definition: models.boatSales, rows },
			{ definition: models.club, rows: [] },
			{ definition: models.visits, rows: REGIONS.map((r) => [r]) },
			...tables.map((definition) => ({
				definition,
				rows: dimensions
					.find((d) => d.code === definition.dimensions[0])!
					.members.filter((m) => m.code !== 'coast')
					.map((m) => [m.code])
			}))
		],
		schedules: [STAFF, CONTRACTS, ASSETS],
		rules,
		rateSets,
		scenarios: [
			scenario(
				{
					code: 'fy27-budget',
					name: 'FY27 Budget',
					kind: 'budget',
					first: APR26,
					last: MAR27,
					actualsThrough: APR26 - 1,
					follows: null,
					origin: null,
					locked: true,
					rates: 'budget',
					description: 'Approved in March 2026.',
					folder: 'FY27'
				},
				{ demand: 1.03, lakes: 1, materialInflation: 0.002, staff: staff(false), seed: 7 },
				budgetHistory,
				0.025
			),
			scenario(
				{
					code: 'fy27-forecast-6-6',
					name: 'FY27 Forecast 6+6',
					kind: 'forecast',
					first: APR26,
					last: SEP26 + 12,
					actualsThrough: SEP26,
					follows: null,
					origin: 'fy27-budget',
					locked: false,
					description: 'Actuals through September 2026, then as FY27 Budget.',
					folder: 'FY27'
				},
				{ demand: 1, lakes: 0.6, materialInflation: 0.003, staff: staff(true), seed: 11 },
				history,
				0.03
			),
			scenario(
				{
					code: 'fy28-budget',
					name: 'FY28 Budget',
					kind: 'budget',
					first: APR26 + 12,
					last: MAR27 + 12,
					actualsThrough: SEP26,
					follows: 'fy27-forecast-6-6',
					origin: 'fy27-forecast-6-6',
					locked: false,
					rates: 'budget',
					description: 'Being collected from departments.',
					folder: 'FY28'
				},
				{ demand: 1.02, lakes: 0.8, materialInflation: 0.0025, staff: staff(true), seed: 13 },
				history,
				0.03
			),
			scenario(
				{
					code: 'dearer-kayaks',
					name: 'Dearer kayaks',
					kind: 'what-if',
					first: APR26,
					last: SEP26 + 12,
					actualsThrough: SEP26,
					follows: null,
					origin: 'fy27-forecast-6-6',
					locked: false,
					description: 'What a rise in kayak prices and better business on the Lakes would bring.',
					folder: 'What-ifs'
				},
				{ demand: 1, lakes: 0.6, materialInflation: 0.003, staff: staff(true), seed: 11 },
				history,
				0.03,
				whatIf
			)
		],
		entries: history.flatMap((m) => m.entries),
		users,
		rounds: [
			{
				code: 'fy28-budget',
				name: 'FY28 Budget, first pass',
				scenario: 'fy28-budget',
				due: '2026-11-27',
				instructions:
					'Plan April 2027 to March 2028. Pay follows the agreed 3.5 % rise. Explain anything that moves by more than 10 % against this year.'
			}
		],
		feedRuns: history.slice(-3).map((m, i) => ({
			at: `2026-${String(8 + i).padStart(2, '0')}-0${4 + i}T08:1${i}:00.000Z`,
			user: 'maren.holt@kelpwick.example',
			file: `ledger-${calendar.key(m.period)}.csv`,
			period: m.period,
			entries: m.entries.length,
			replaced: 0,
			debits: Math.round(m.entries.reduce((s, e) => s + Math.max(0, e.amount), 0) * 100) / 100,
			unmapped: 0
		}))
	});
	await addPlanned(data);
	return { data, october: months.find((m) => m.period === OCT26)!.entries };
}

/** What rests on the figures of the plan for FY28: its targets, and its round. */
async function addPlanned(data: CompanyData): Promise<void> {
	const db = await openDatabase(':memory:');
	await storeCompany(db, data);
	const plan = await planOf(db, 'fy28-budget');
	await db.destroy();
	addTargets(data, plan);
	addSubmissions(data, plan);
}

/** Set from above, and not what departments plan: some are met, some missed by more than a tenth. */
function addTargets(data: CompanyData, plan: Plan): void {
	const budget = data.scenarios.find((s) => s.scenario.code === plan.scenario.code)!;
	data.scenarios.push(
		scenarioOf({
			scenario: {
				...budget.scenario,
				code: 'fy28-targets',
				name: 'FY28 Targets',
				kind: 'target',
				// Typed as they are, they look back at nothing.
				actualsThrough: null,
				follows: null,
				origin: budget.scenario.code,
				description: 'What the owners want of FY28.'
			},
			definitions: [],
			series: targets(plan)
		})
	);
	budget.scenario.target = 'fy28-targets';
}

/** The round for FY28: departments in every state. */
function addSubmissions(data: CompanyData, plan: Plan): void {
	const at = (day: number, hour: number) =>
		`2026-11-${String(day).padStart(2, '0')}T${String(hour).padStart(2, '0')}:20:00.000Z`;
	const steps: [string, SubmissionRecord['state'], string, [string, string, string, string][]][] = [
		[
			'hull-shop',
			'submitted',
			'2026-11-27',
			[
				[at(5, 9), 'petra.lind', 'edit', ''],
				[at(12, 16), 'petra.lind', 'submit', 'Overtime is down: the second oven arrives in May.']
			]
		],
		['rigging', 'drafting', '2026-11-27', [[at(13, 10), 'petra.lind', 'edit', '']]],
		[
			'dealer-sales',
			'returned',
			'2026-11-27',
			[
				[at(6, 9), 'tom.aldous', 'edit', ''],
				[at(10, 15), 'tom.aldous', 'submit', 'As agreed with the dealers.'],
				[
					at(12, 11),
					'oliver.strand',
					'return',
					'Dealer support rises by more than sales. Which dealers is it for?'
				]
			]
		],
		['direct-web', 'not started', '2026-11-27', []],
		[
			'harbour-club',
			'in review',
			'2026-11-27',
			[
				[at(4, 9), 'ines.calder', 'edit', ''],
				[at(11, 14), 'ines.calder', 'submit', ''],
				[at(13, 9), 'oliver.strand', 'review', '']
			]
		],
		['refit-yard', 'not started', '2026-11-13', []],
		[
			'design-office',
			'approved',
			'2026-11-27',
			[
				[at(3, 9), 'asha.rao', 'edit', ''],
				[at(6, 10), 'asha.rao', 'submit', 'Tank tests for the new dinghy are in June.'],
				[at(9, 13), 'oliver.strand', 'approve', 'Thank you.']
			]
		],
		['finance-people', 'drafting', '2026-11-27', [[at(12, 9), 'nora.whitlock', 'edit', '']]],
		[
			'sites-it',
			'submitted',
			'2026-11-27',
			[
				[at(10, 9), 'dale.furness', 'edit', ''],
				[at(13, 17), 'dale.furness', 'submit', 'New energy contract from June is not signed yet.']
			]
		],
		['baltic-sales', 'not started', '2026-11-27', []],
		['baltic-yard', 'not started', '2026-11-27', []]
	];
	for (const [department, state, due, events] of steps) {
		const wasSubmitted = events.some(([, , action]) => action === 'submit');
		data.submissions.push({
			round: 'fy28-budget',
			department,
			state,
			due,
			figures: wasSubmitted ? departmentFigures(plan, department) : null
		});
		data.events.push(
			...events.map(([when, user, action, comment]): SubmissionEvent => ({
				round: 'fy28-budget',
				department,
				at: when,
				user: `${user}@kelpwick.example`,
				action,
				comment
			}))
		);
	}
	data.events.sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0));
}

/** October's entries as the ledger hands them out, with names of accounts. */
export function octoberFile(data: CompanyData, october: readonly Entry[]): string {
	const names = new Map([
		...data.ledgerAccounts.map((l) => [l.code, l.name] as const),
		[NEW_ACCOUNT.code, NEW_ACCOUNT.name] as const
	]);
	const tags = data.dimensions.filter((d) => LEDGER_TAGS.includes(d.code));
	return writeTable(
		[
			'Posting date',
			'Account',
			'Account name',
			'Department',
			'Amount',
			'Document',
			'Party',
			'Description',
			...tags.map((d) => d.name)
		],
		october.map((e) => [
			e.date,
			e.ledgerAccount,
			names.get(e.ledgerAccount) ?? '',
			e.department,
			e.amount.toFixed(2),
			e.document,
			e.party,
			e.description,
			...tags.map((t) => e.tags[t.code] ?? '')
		])
	);
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
	const here = dirname(fileURLToPath(import.meta.url));
	const { data, october } = await kelpwick();
	rmSync(join(here, 'company'), { recursive: true, force: true });
	writeFolder(join(here, 'company'), writeCompany(data));
	mkdirSync(join(here, 'inbox'), { recursive: true });
	writeFileSync(join(here, 'inbox', 'ledger-2026-10.csv'), octoberFile(data, october));
	console.log(`Wrote ${data.entries.length + october.length} ledger entries.`);
}
