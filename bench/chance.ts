/** Ten thousand trials by chance on the demo's revenue model, as multiples of one full calculation of the scenario. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TouchedLine } from '../src/lib/core/engine/calculation';
import { ACCOUNTS_BLOCK } from '../src/lib/core/engine/spec';
import { totalsOf } from '../src/lib/core/statements/totals';
import { Driver } from '../src/lib/core/analysis/driver';
import { monteCarlo } from '../src/lib/core/analysis/monte-carlo';
import { loadFolder } from '../src/lib/server/transfer/folder';
import { openDatabase } from '../src/lib/server/platform/db/connect';
import { planOf } from '../src/lib/server/scenarios/plans';
import { listScenarios } from '../src/lib/server/scenarios/scenarios';
import { median, report } from './measure';

const TRIALS = 10_000;

export async function benchChance(): Promise<void> {
	const folder = mkdtempSync(join(tmpdir(), 'bench-'));
	const db = await openDatabase(join(folder, 'bench.sqlite'));
	try {
		await loadFolder(db, 'demo/company');
		const scenario = (await listScenarios(db)).find((s) => s.kind === 'forecast')!;
		const plan = await planOf(db, scenario.code);
		const full = median(() => void plan.calculation.calculate());
		const { axis } = plan.calculation;
		const [from, to] = [plan.open, plan.scenario.last];
		const drivers = ['units', 'list_price', 'discount'].map(
			(line) => new Driver(plan, { block: 'boat_sales', line, where: {}, from, to })
		);
		const { calculation } = plan;
		const months = to - from + 1;
		const first = from - axis.first;
		const trials = (metric: string, lines: TouchedLine[], read: () => ArrayLike<number>, note: string) => {
			const only = calculation.leadingTo(lines);
			const start = process.hrtime.bigint();
			const ranges = monteCarlo(
				[
					{ kind: 'normal', mean: 1, deviation: 0.08 },
					{ kind: 'triangular', low: 0.97, likely: 1, high: 1.04 },
					{ kind: 'uniform', low: 0.8, high: 1.2 }
				],
				months,
				(drawn) => {
					drivers.forEach((d, i) => d.move('multiply', drawn[i]));
					calculation.recalculate(only);
					return read();
				},
				{ trials: TRIALS, seed: 1, percentiles: [10, 50, 90] }
			);
			const ms = Number(process.hrtime.bigint() - start) / 1e6;
			if (ranges.failed) throw new Error('A trial gave no number.');
			report(
				metric,
				ms,
				full,
				'ms',
				`${TRIALS} trials of 3 drivers ${note}, in full calculations of the scenario`
			);
		};
		const revenue = calculation.matrix('boat_sales', 'revenue');
		const sums = new Float64Array(months);
		trials(
			'engine.chance',
			plan.models.get('boat_sales')!.definition.lines.map((l) => ({ block: 'boat_sales', code: l.code })),
			() => {
				for (let t = 0; t < months; t++) {
					let sum = 0;
					const at = (first + t) * revenue.rows;
					for (let r = 0; r < revenue.rows; r++) sum += revenue.values[at + r];
					sums[t] = sum;
				}
				return sums;
			},
			`over ${revenue.rows} rows × ${months} months, what they do to sales`
		);
		const { accounts } = plan.structure;
		trials(
			'engine.chance.profit',
			accounts.leaves('profit').map((a) => ({ block: ACCOUNTS_BLOCK, code: a.code })),
			() => {
				const { values, start } = totalsOf(plan).of('profit', null);
				return values.subarray(start + first, start + first + months);
			},
			'on the same, what they do to the profit of all departments'
		);
	} finally {
		await db.destroy();
		rmSync(folder, { recursive: true, force: true });
	}
}
