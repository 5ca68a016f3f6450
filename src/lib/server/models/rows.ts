/** Which combinations of members a driver model holds: adding some, taking out those without data. */
import { digits } from '../../core/company/counted';
import type { Knex } from 'knex';
import { ROW_SEPARATOR, rowKey } from '../../core/engine/row-key';
import type { ModelDefinition } from '../../core/blocks/driver-model/schema';
import { membersAt } from '../../core/inputs/combinations';
import { rowFaults } from '../../core/blocks/driver-model/check-rows';
import { rowName } from '../../core/blocks/driver-model/rows';
import { retiredOf } from '../../core/company/retired';
import { treeOf } from '../../core/company/structure';
import { insertMany } from '../platform/db/bulk';
import { note } from '../company/journal';
import { keepingLockedFigures } from '../scenarios/locked-figures';
import { notFound, Refusal } from '../platform/refusal';
import { namedFor } from '../scenarios/scenarios';
import { touchCompany, type CompanyState, companyFor } from '../company/structure';
import * as stored from '../platform/db/stored';
import { Definition } from '../company/subjects/models';
import { asOne, type Context, type Within } from '../platform/context';

/** Most rows of one model. */
export const MOST_ROWS = 20_000;

export type Coordinate = readonly string[];

/** Rows of a model in their order. */
export async function storedRows(db: Knex, model: string): Promise<string[][]> {
	const keys = await stored.texts(db('model_row').where({ model }).orderBy('position').pluck('row'));
	return keys.map((k) => k.split(ROW_SEPARATOR));
}

/** Puts a model's rows in this order, and no others. */
export async function storeRows(
	trx: Knex.Transaction,
	model: string,
	rows: readonly Coordinate[]
): Promise<void> {
	if (rows.length > MOST_ROWS)
		throw new Refusal(
			422,
			`The model would have ${digits(rows.length)} rows; ${digits(MOST_ROWS)} are the most. Choose fewer members.`
		);
	await trx('model_row').where({ model }).delete();
	await insertMany(
		trx,
		'model_row',
		['model', 'row', 'position'],
		rows.map((r, i) => [model, rowKey(r), i])
	);
}

/** Forms of a model in use, each once, with the scenarios that use it. */
export async function definitionsInUse(
	db: Knex,
	model: string
): Promise<{ definition: ModelDefinition; scenarios: string[] }[]> {
	const rows = await stored.many(
		{ scenario: 'text', content: 'text' },
		db('scenario_model')
			.join('definition', 'definition.id', 'scenario_model.definition')
			.where({ model })
			.select('scenario', 'content')
	);
	const found = new Map<string, string[]>();
	for (const { scenario, content } of rows) found.set(content, [...(found.get(content) ?? []), scenario]);
	return [...found].map(([content, scenarios]) => ({
		definition: Definition.parse(content),
		scenarios
	}));
}

/** Members at the bottom of each dimension that are offered, combined, without what rules block. */
export function allCombinations(state: CompanyState, dimensions: readonly string[]): string[][] {
	const leaves = dimensions.map((d) => {
		const tree = treeOf(state.structure, d);
		const retired = retiredOf(state.structure, d);
		return tree ? tree.all.filter((m) => tree.isLeaf(m.code) && !retired.has(m.code)).map((m) => m.code) : [];
	});
	const count = leaves.reduce((n, l) => n * l.length, 1);
	if (count > MOST_ROWS * 5)
		throw new Refusal(
			422,
			`All combinations of these dimensions are ${digits(count)}. Start without rows and add those that are needed.`
		);
	const rows = leaves.reduce<string[][]>(
		(some, list) => some.flatMap((r) => list.map((m) => [...r, m])),
		[[]]
	);
	return rows.filter((r) => !state.blocking(membersAt(dimensions, r)));
}

/** @throws Refusal 422 where a row cannot be: an unknown member, a total, a blocked combination, a posting to nowhere */
export async function mustBeRows(
	trx: Knex.Transaction,
	state: CompanyState,
	model: string,
	rows: readonly Coordinate[]
): Promise<void> {
	for (const { definition } of await definitionsInUse(trx, model)) {
		const [fault] = rowFaults(definition, rows, state.structure);
		if (fault)
			throw new Refusal(422, `${definition.name}, row ${fault.row + 1}: ${fault.message}`, [
				{ message: fault.message, row: fault.row + 1, column: fault.dimension ?? undefined }
			]);
		for (const row of rows) {
			const rule = state.blocking(membersAt(definition.dimensions, row));
			if (rule)
				throw new Refusal(
					422,
					`${rowName(state.structure, definition, rowKey(row))} may hold no data, by the combination rule “${rule.name}”.`
				);
		}
	}
}

/** @throws Refusal 422 where a row names a member that is retired */
function mustBeOffered(
	state: CompanyState,
	dimensions: readonly string[],
	rows: readonly Coordinate[]
): void {
	for (const [at, dimension] of dimensions.entries()) {
		const retired = retiredOf(state.structure, dimension);
		const row = rows.findIndex((r) => retired.has(r[at]));
		if (row < 0) continue;
		const message = `“${treeOf(state.structure, dimension)!.get(rows[row][at])!.name}” is retired; bring it back under Members first`;
		throw new Refusal(422, `${message}.`, [{ message, row: row + 1, column: dimension }]);
	}
}

/**
 * Adds rows to a model, in all scenarios that use it; they are blank there.
 * @param leaveOut blocked combinations are left out; by default one of them refuses all
 * @returns how many were new, and how many were left out by which rules
 */
export async function addRows(
	context: Context,
	model: string,
	wanted: readonly Coordinate[],
	leaveOut = false
): Promise<{ rows: number; blocked: number; rules: string[] }> {
	return asOne(context, async (within) => {
		const { db: trx } = within;
		const state = await companyFor(within, 'change driver models');
		if (!(await trx('model').where({ code: model }).first('code'))) throw notFound(`The model “${model}”`);
		const rows = await storedRows(trx, model);
		const known = new Set(rows.map(rowKey));
		const unknown = wanted.filter((r) => !known.has(rowKey(r)) && known.add(rowKey(r)));
		const [form] = await definitionsInUse(trx, model);
		const ruleOf = (row: Coordinate) =>
			leaveOut && form && row.length === form.definition.dimensions.length
				? state.blocking(membersAt(form.definition.dimensions, row))
				: null;
		const rules = new Set<string>();
		const fresh = unknown.filter((row) => {
			const rule = ruleOf(row);
			if (rule) rules.add(rule.name);
			return !rule;
		});
		const answer = { rows: fresh.length, blocked: unknown.length - fresh.length, rules: [...rules] };
		if (!fresh.length) return answer;
		await mustBeRows(trx, state, model, fresh);
		if (form) mustBeOffered(state, form.definition.dimensions, fresh);
		await keepingLockedFigures(within, [model], async () => {
			await storeRows(trx, model, [...rows, ...fresh]);
			await touchCompany(trx);
		});
		await noteRows(within, model, '', fresh.map(rowKey).join('; '));
		return answer;
	});
}

/**
 * Takes rows out of a model, in all scenarios.
 * @throws Refusal 422 naming the scenarios in which one holds data
 */
export async function removeRows(
	context: Context,
	model: string,
	unwanted: readonly Coordinate[]
): Promise<number> {
	return asOne(context, async (within) => {
		const { db: trx } = within;
		await companyFor(within, 'change driver models');
		const keys = new Set(unwanted.map(rowKey));
		const rows = await storedRows(trx, model);
		const kept = rows.filter((r) => !keys.has(rowKey(r)));
		if (kept.length === rows.length) return 0;
		const holding = await stored.texts(
			trx('series')
				.join('scenario', 'scenario.code', 'series.scenario')
				.where({ block: model })
				.whereIn('row', [...keys])
				.distinct('scenario')
				.pluck('scenario')
		);
		if (holding.length)
			throw new Refusal(
				422,
				`There are typed figures in these rows in ${await namedFor(within, holding)}. Take those out first; rows go in all scenarios.`
			);
		await keepingLockedFigures(within, [model], async () => {
			await storeRows(trx, model, kept);
			await touchCompany(trx);
		});
		await noteRows(within, model, [...keys].join('; '), '');
		return rows.length - kept.length;
	});
}

const noteRows = (context: Within, model: string, before: string, after: string) =>
	note(context.db, [
		{
			user: context.user.email,
			kind: 'rows',
			scenario: '',
			about: { what: 'rows', model },
			before,
			after,
			why: ''
		}
	]);
