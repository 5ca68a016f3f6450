/** Ten thousand trials by chance on the demo's revenue model, as multiples of one full calculation of the scenario. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
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
		const revenue = plan.calculation.matrix('boat_sales', 'revenue');
		const first = from - axis.first;
		const months = to - from + 1;
		const sums = new Float64Array(months);
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
				plan.calculation.recalculate();
				for (let t = 0; t < months; t++) {
					let sum = 0;
					const at = (first + t) * revenue.rows;
					for (let r = 0; r < revenue.rows; r++) sum += revenue.values[at + r];
					sums[t] = sum;
				}
				return sums;
			},
			{ trials: TRIALS, seed: 1, percentiles: [10, 50, 90] }
		);
		const ms = Number(process.hrtime.bigint() - start) / 1e6;
		if (ranges.failed) throw new Error('A trial gave no number.');
		report(
			'engine.chance',
			ms,
			full,
			'ms',
			`${TRIALS} trials of 3 drivers over ${revenue.rows} rows × ${months} months, in full calculations of the scenario`
		);
	} finally {
		await db.destroy();
		rmSync(folder, { recursive: true, force: true });
	}
}
