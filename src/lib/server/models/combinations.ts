/** Combination rules: keeping them, and saying what they block and what data lies under it. */
import { rowKey } from '../../core/engine/row-key';
import type { CombinationRule } from '../../core/inputs/schema';
import {
	blockingOf,
	membersAt,
	ruleFaults,
	type RuleEffect,
	type RuleView
} from '../../core/inputs/combinations';
import { rowName } from '../../core/blocks/driver-model/rows';
import { treeOf } from '../../core/company/structure';
import { tagsFromText } from '../company/subjects/entries';
import { ruleToRow } from '../company/subjects/rules';
import { note } from '../company/journal';
import { definitionsInUse, storedRows } from './rows';
import { notFound, Refusal } from '../platform/refusal';
import { visibleScenarios } from '../scenarios/scenarios';
import { touchCompany, type CompanyState, companyFor } from '../company/structure';
import * as stored from '../platform/db/stored';
import { asOne, type Context } from '../platform/context';

/** The rules in their order, each with what it blocks, as if it were on. */
export async function readCombinationRules(context: Context): Promise<RuleView[]> {
	const state = await companyFor(context, 'see driver models');
	const views = [];
	for (const rule of state.rules) views.push(await effectOf(context, state, rule));
	return views;
}

/** What a rule would do; nothing is kept. @throws Refusal 422 for one that cannot be */
export async function tryRule(context: Context, rule: CombinationRule): Promise<RuleView> {
	const state = await companyFor(context, 'change driver models');
	mustBeRule(state, rule);
	return effectOf(context, state, rule);
}

function mustBeRule({ structure }: CompanyState, rule: CombinationRule): void {
	const faults = ruleFaults(rule, (d) => treeOf(structure, d));
	if (faults.length)
		throw new Refusal(
			422,
			faults[0],
			faults.map((message) => ({ message }))
		);
}

async function effectOf(context: Context, state: CompanyState, rule: CombinationRule): Promise<RuleView> {
	const { db } = context;
	const { structure } = state;
	const blocking = blockingOf([{ ...rule, on: true }], structure);
	const seen = await visibleScenarios(context);
	const names = new Map(seen.map((s) => [s.code, s.name]));
	const needed = [rule.lead, ...rule.others].map((s) => s.dimension);
	const effects: RuleEffect[] = [];
	for (const model of await stored.texts(db('model').orderBy('position').pluck('code'))) {
		const forms = await definitionsInUse(db, model);
		const use = forms.find((f) => f.scenarios.some((s) => names.has(s)));
		if (!use || needed.some((d) => !use.definition.dimensions.includes(d))) continue;
		const { definition } = use;
		const rows = await storedRows(db, model);
		const blocked = rows.filter((r) => blocking(membersAt(definition.dimensions, r))).map(rowKey);
		const held = blocked.length
			? await stored.many(
					{ scenario: 'text', row: 'text', data: 'bytes' },
					db('series')
						.where({ block: model })
						.whereIn('row', blocked)
						.whereIn('scenario', [...names.keys()])
						.orderBy(['scenario', 'row'])
						.select('scenario', 'row', 'data')
				)
			: [];
		const data = new Map<string, RuleEffect['data'][number]>();
		for (const { scenario, row, data: blob } of held) {
			const key = `${scenario}/${row}`;
			const found = data.get(key) ?? {
				scenario,
				scenarioName: names.get(scenario)!,
				row,
				rowName: rowName(structure, definition, row),
				cells: 0
			};
			found.cells += new Float64Array(
				blob.buffer.slice(blob.byteOffset, blob.byteOffset + blob.byteLength)
			).filter((v) => !Number.isNaN(v)).length;
			data.set(key, found);
		}
		effects.push({
			model,
			name: definition.name,
			blocked: blocked.length,
			rows: rows.length,
			data: [...data.values()]
		});
	}
	const groups = await stored.many(
		{ tags: 'text', department: 'text', n: 'number' },
		db('ledger_entry')
			.whereNot({ tags: '' })
			.groupBy('tags', 'department')
			.count({ n: '*' })
			.select('tags', 'department')
	);
	const entries = groups.reduce(
		(sum, g) => sum + (blocking({ ...tagsFromText(g.tags), department: g.department }) ? g.n : 0),
		0
	);
	return { rule, effects, entries };
}

/** Adds a rule or changes it. What it blocks stays where it is; from now on nothing more is written there. */
export async function putRule(context: Context, rule: CombinationRule): Promise<void> {
	await changeRules(context, rule.code, (state) => {
		mustBeRule(state, rule);
		if (state.rules.some((r) => r.code !== rule.code && r.name === rule.name))
			throw new Refusal(409, `There is a combination rule named “${rule.name}” already.`);
		const at = state.rules.findIndex((r) => r.code === rule.code);
		return at < 0 ? [...state.rules, rule] : state.rules.with(at, rule);
	});
}

/** Switches a rule on or off. */
export async function switchRule(context: Context, code: string, on: boolean): Promise<void> {
	await changeRules(context, code, ({ rules }) => {
		if (!rules.some((r) => r.code === code)) throw notFound(`The combination rule “${code}”`);
		return rules.map((r) => (r.code === code ? { ...r, on } : r));
	});
}

export async function removeRule(context: Context, code: string): Promise<void> {
	await changeRules(context, code, ({ rules }) => {
		if (!rules.some((r) => r.code === code)) throw notFound(`The combination rule “${code}”`);
		return rules.filter((r) => r.code !== code);
	});
}

async function changeRules(
	context: Context,
	code: string,
	change: (state: CompanyState) => CombinationRule[]
): Promise<void> {
	const { user } = context;
	await asOne(context, async (within) => {
		const { db: trx } = within;
		const state = await companyFor(within, 'change driver models');
		const rules = change(state);
		const words = (list: readonly CombinationRule[]) => {
			const rule = list.find((r) => r.code === code);
			return rule ? JSON.stringify(rule) : '';
		};
		await trx('combination_rule').delete();
		if (rules.length) await trx('combination_rule').insert(rules.map(ruleToRow));
		await note(trx, [
			{
				user: user.email,
				kind: 'rule',
				scenario: '',
				about: { what: 'rule', code },
				before: words(state.rules),
				after: words(rules),
				why: ''
			}
		]);
		await touchCompany(trx);
	});
}
