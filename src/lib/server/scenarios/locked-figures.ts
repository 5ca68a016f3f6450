/** Changes to the company's structure must leave locked scenarios as they are. */
import { BLANK, type Matrix } from '../../core/engine/values';
import { ACCOUNTS_BLOCK } from '../../core/engine/spec';
import type { Plan } from '../../core/scenario/plan';
import { Refusal } from '../platform/refusal';
import { planOf } from './plans';
import { listScenarios, namedFor } from './scenarios';
import * as stored from '../platform/db/stored';
import type { Within } from '../platform/context';

/**
 * Does something that may touch every scenario that uses the models.
 * @throws Refusal 422 when it would change a figure of a locked scenario; the caller's transaction is to be given up
 */
export async function keepingLockedFigures<T>(
	context: Within,
	models: readonly string[],
	change: () => Promise<T>
): Promise<T> {
	const { db: trx } = context;
	const using = new Set(await stored.texts(trx('scenario_model').whereIn('model', models).pluck('scenario')));
	const locked = (await listScenarios(trx)).filter(
		(s) => s.locked && s.kind !== 'actuals' && using.has(s.code)
	);
	const before = new Map<string, Plan>();
	for (const s of locked) before.set(s.code, await planOf(trx, s.code));
	const result = await change();
	for (const s of locked) {
		const account = changedAccount(before.get(s.code)!, await planOf(trx, s.code));
		if (account)
			throw new Refusal(
				422,
				`This would change ${account} in ${await namedFor(context, [s.code])}, which is locked. Nothing was saved. Unlock it first, or leave its formulas and attributes as they are.`
			);
	}
	return result;
}

/** The first account whose figures differ between two calculations of a scenario; null when none does. */
function changedAccount(before: Plan, after: Plan): string | null {
	const { accounts } = before.structure;
	for (const a of accounts.all) {
		if (!accounts.isLeaf(a.code)) continue;
		const [was, is] = [before, after].map((p) => p.calculation.matrix(ACCOUNTS_BLOCK, a.code));
		if (!sameFigures(was, is)) return `${a.code} ${a.name}`;
	}
	return null;
}

/** Sums in another order may differ far below a cent. */
const NOISE = 1e-6;
const isError = (m: Matrix, i: number) => m.marks !== null && m.marks[i] > BLANK;

function sameFigures(a: Matrix, b: Matrix): boolean {
	if (a.values.length !== b.values.length) return false;
	return a.values.every((v, i) =>
		isError(a, i) || isError(b, i)
			? isError(a, i) && isError(b, i) && a.marks![i] === b.marks![i]
			: Math.abs(v - b.values[i]) <= NOISE
	);
}
