/** Database rows as the plain data of the core, and back. */
import type { Knex } from 'knex';
import type { ListedScenario } from './data';
import type { Account, Company, Department, Dimension } from '../../core/company/schema';
import type { AdjustmentDefinition, CombinationRule, Profile } from '../../core/inputs/schema';
import type { Basis, BasisEntry } from '../../core/inputs/basis';
import type { Scenario } from '../../core/scenario/schema';
import { Refusal } from '../platform/refusal';

export interface ScenarioRow {
	code: string;
	name: string;
	kind: Scenario['kind'];
	first: number;
	last: number;
	actuals_through: number | null;
	follows: string | null;
	origin: string | null;
	locked: 0 | 1 | boolean;
	description: string;
	folder: string;
	visibility: ListedScenario['visibility'];
	people: string;
	owner: string;
	target: string | null;
	deleted: string | null;
	position: number;
	revision: number;
}
export const scenarioFromRow = (r: ScenarioRow): ListedScenario => ({
	code: r.code,
	name: r.name,
	kind: r.kind,
	first: r.first,
	last: r.last,
	actualsThrough: r.actuals_through,
	follows: r.follows,
	origin: r.origin,
	locked: Boolean(r.locked),
	description: r.description,
	folder: r.folder,
	visibility: r.visibility,
	people: r.people.split(';').filter(Boolean),
	owner: r.owner,
	target: r.target
});

export const ruleToRow = ({ code, ...content }: CombinationRule, position: number) => ({
	code,
	content: JSON.stringify(content),
	position
});
/** Combination rules in their order. */
export async function readRules(db: Knex): Promise<CombinationRule[]> {
	const rows = (await db('combination_rule').orderBy('position')) as { code: string; content: string }[];
	return rows.map(({ code, content }) => ({
		code,
		...(JSON.parse(content) as Omit<CombinationRule, 'code'>)
	}));
}

export const profileToRow = ({ code, name, weights }: Profile, position: number) => ({
	code,
	name,
	weights: JSON.stringify(weights),
	position
});
/** Seasonal profiles in their order. */
export async function readProfiles(db: Knex): Promise<Profile[]> {
	const rows = (await db('profile').orderBy('position')) as { code: string; name: string; weights: string }[];
	return rows.map(({ code, name, weights }) => ({ code, name, weights: JSON.parse(weights) as number[] }));
}

export interface AdjustmentRow {
	code: string;
	name: string;
	on: 0 | 1 | boolean;
	steps: string;
	adopted: string | null;
	position: number;
}
export const adjustmentFromRow = (r: AdjustmentRow): AdjustmentDefinition => ({
	code: r.code,
	name: r.name,
	on: Boolean(r.on),
	steps: JSON.parse(r.steps),
	adopted: r.adopted
});
export const adjustmentToRow = (scenario: string, a: AdjustmentDefinition, position: number) => ({
	scenario,
	code: a.code,
	name: a.name,
	on: a.on ? 1 : 0,
	steps: JSON.stringify(a.steps),
	adopted: a.adopted,
	position
});

export interface BasisRow {
	account: string;
	department: string;
	kind: Basis['kind'];
	percent: number | null;
	of_account: string | null;
	months: number | null;
	driver: string | null;
	rate: number | null;
}
export function basisFromRow(r: BasisRow): BasisEntry {
	const at = { account: r.account, department: r.department };
	switch (r.kind) {
		case 'typed':
			return { ...at, basis: { kind: 'typed' } };
		case 'last-year':
			return { ...at, basis: { kind: 'last-year', percent: r.percent! } };
		case 'percent-of':
			return { ...at, basis: { kind: 'percent-of', percent: r.percent!, account: r.of_account! } };
		case 'run-rate':
			return { ...at, basis: { kind: 'run-rate', months: r.months! } };
		case 'driver':
			return { ...at, basis: { kind: 'driver', driver: r.driver!, rate: r.rate! } };
	}
}
export function basisToRow(scenario: string, { account, department, basis }: BasisEntry) {
	return {
		scenario,
		account,
		department,
		kind: basis.kind,
		percent: 'percent' in basis ? basis.percent : null,
		of_account: basis.kind === 'percent-of' ? basis.account : null,
		months: basis.kind === 'run-rate' ? basis.months : null,
		driver: basis.kind === 'driver' ? basis.driver : null,
		rate: basis.kind === 'driver' ? basis.rate : null
	};
}

/** @throws Refusal when no company has been loaded */
export async function readCompanyRow(
	db: Knex
): Promise<{ company: Company; closedThrough: number | null; revision: number }> {
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

export async function readStructureRows(
	db: Knex
): Promise<{ accounts: Account[]; departments: Department[]; dimensions: Dimension[] }> {
	const stored = (await db('account')
		.orderBy('position')
		.select('code', 'name', 'parent', 'type', 'rollup', 'format', 'nonCash')) as Account[];
	const accounts = stored.map((a) => ({ ...a, nonCash: Boolean(a.nonCash) }));
	const departments = (await db('department')
		.orderBy('position')
		.select('code', 'name', 'parent', 'entity')) as Department[];
	const dimensions = (await db('dimension').orderBy('position').select('code', 'name')) as {
		code: string;
		name: string;
	}[];
	const members = (await db('member').orderBy('position')) as {
		dimension: string;
		code: string;
		name: string;
		parent: string | null;
		attributes: string;
	}[];
	return {
		accounts,
		departments,
		dimensions: dimensions.map((d) => ({
			...d,
			members: members
				.filter((m) => m.dimension === d.code)
				.map((m) => ({ code: m.code, name: m.name, parent: m.parent, attributes: JSON.parse(m.attributes) }))
		}))
	};
}
