/** Companies made at random: every figure against a plain calculation, before and after two months are closed. */
import { describe, expect, it } from 'vitest';
import { overTime } from '../../src/lib/core/statements/statement';
import { totalsOf } from '../../src/lib/core/statements/totals';
import { modelFigures } from '../../src/lib/core/views/model-view';
import type { Plan } from '../../src/lib/core/scenario/plan';
import { closeMonth } from '../../src/lib/server/scenarios/close';
import { type CompanyData, readCompany, writeCompany } from '../../src/lib/server/company/subjects';
import { loadCompany } from '../../src/lib/server/transfer/load';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import { planOf } from '../../src/lib/server/scenarios/plans';
import { userOf } from '../support/company';
import { strangersCompany } from '../support/stranger/company';
import { plainCalendar } from '../support/stranger/calendar';
import { carriedOn, PlainCompany, type Figure } from '../support/stranger/plain';

let compared = 0;
function same(actual: unknown, expected: Figure, where: () => string) {
	compared++;
	if (expected === null || actual === null) {
		if (actual !== expected) expect.fail(`${where()}: ${actual} instead of ${expected}`);
		return;
	}
	const slack = 1e-7 * Math.max(1, Math.abs(expected));
	if (typeof actual !== 'number' || !(Math.abs(actual - expected) <= slack))
		expect.fail(`${where()}: ${actual} instead of ${expected}`);
}

/** Every figure of a calculated scenario. */
function compare(plan: Plan, plain: PlainCompany, data: CompanyData, code: string) {
	const { calculation, structure } = plan;
	const { axis } = calculation;
	const last = axis.first + axis.length - 1;
	const at =
		(...parts: unknown[]) =>
		() =>
			[data.company.name, code, ...parts].join(' ');
	for (const account of structure.accounts.all) {
		if (!structure.accounts.isLeaf(account.code)) continue;
		structure.departmentRows.forEach(({ code: department }, r) => {
			for (let p = axis.first; p <= last; p++)
				same(
					calculation.cell('accounts', account.code, r, p),
					plain.account(code, account.code, department, p),
					at(account.code, department, p)
				);
		});
	}
	for (const { definition, rows } of plan.models.values()) {
		const all = definition.dimensions.length ? rows : [[]];
		for (const line of definition.lines)
			all.forEach((row, r) => {
				for (let p = axis.first; p <= last; p++)
					same(
						calculation.cell(definition.code, line.code, r, p),
						plain.line(code, definition.code, line.code, row, p),
						at(definition.code, line.code, row, p)
					);
			});
		const year = { from: plan.open, to: Math.min(last, plan.open + 11) };
		const quarter = { from: plan.open, to: Math.min(last, plan.open + 2) };
		const figures = modelFigures(plan, { model: definition.code, spans: [year, quarter], rows: ['line'] });
		for (const row of figures.rows)
			[year, quarter].forEach((span, i) =>
				same(
					row.cells[i],
					plain.lineTotal(
						code,
						definition.code,
						row.heads!,
						all.map((r) => [...r]),
						span.from,
						span.to
					),
					at(definition.code, row.heads, 'in all', span.from, span.to)
				)
			);
	}
	for (const department of structure.departments.all) {
		for (const account of structure.accounts.all)
			for (const [from, to] of [
				[plan.open, last],
				[plan.open - 3, plan.open + 2]
			])
				same(
					overTime(totalsOf(plan).of(account.code, department.code), from, to),
					plain.accountTotal(code, account.code, department.code, from, to),
					at(account.code, department.code, from, to)
				);
	}
}

describe('a stranger’s company', () => {
	it.each(Array.from({ length: 6 }, (_, i) => i + 1))(
		'%i has the figures of a plain calculation',
		async (seed) => {
			const data = strangersCompany(seed);
			const db = await openDatabase(':memory:');
			await loadCompany(db, readCompany(writeCompany(data)));
			const plain = new PlainCompany(data);
			for (const { scenario } of data.scenarios)
				compare(await planOf(db, scenario.code), plain, data, scenario.code);

			const ana = await userOf(db, 'ana');
			let known = data;
			let from = 'forecast';
			for (const [n, method] of (['last', 'year-ago'] as const).entries()) {
				const closing = data.closedThrough! + 1 + n;
				const code = await closeMonth(
					{ db, user: ana },
					{
						month: closing,
						from,
						name: `Closed ${n}`,
						accounts: method,
						followers: n ? [] : ['next'],
						despiteUnmapped: true
					}
				);
				const previous = known.scenarios.find((s) => s.scenario.code === from)!;
				const made = carriedOn(previous, closing, method, code, plainCalendar(data.company.calendar));
				known = {
					...known,
					scenarios: [
						...known.scenarios.map((s) =>
							n === 0 && s.scenario.code === 'next'
								? { ...s, scenario: { ...s.scenario, follows: code, actualsThrough: closing } }
								: s
						),
						made
					]
				};
				from = code;
			}
			const after = new PlainCompany(known);
			for (const { scenario } of known.scenarios)
				compare(await planOf(db, scenario.code), after, known, scenario.code);
			await db.destroy();
		}
	);
	it('is compared in tens of thousands of figures', () => expect(compared).toBeGreaterThan(100_000));
});
