/** A part of a scenario, calculated elsewhere: whatever is typed in it, its figures are those of the whole. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { account, inTwoCompanies, yearFrom } from '../../../../tests/support/budget';
import { ModelDefinition } from '../blocks/driver-model/schema';
import { ScheduleDefinition, type ScheduleRow } from '../blocks/schedule/schema';
import { monthCalendar } from '../calendar/calendar';
import type { Basis } from '../inputs/basis';
import { ACCOUNTS_BLOCK, ModelError } from '../engine/spec';
import { PartTooSmall, SchedulePreview } from '../views/schedule-preview';
import { calculateScenario } from './assemble';
import type { ScenarioData } from './data';
import { packScenario, packageFromBytes, packageToBytes, unpackScenario } from './package';
import { partAround } from './part';
import type { Plan } from './plan';

const calendar = monthCalendar(4);
const OPEN = calendar.parse('2027-04')!;
const ACCOUNTS = ['sales', 'rent', 'pay', 'fees'];
const structure = inTwoCompanies(
	calendar,
	ACCOUNTS.map((code) => account(code, code === 'sales' ? 'revenue' : 'expense')),
	{ shop: 'ltd', turku: 'oy' }
);
const DEPARTMENTS = ['shop', 'turku'];
const WEEKS = { kind: 'weeks', grouping: 'weeks', fiscalStart: 1, endsOn: 7, rule: 'nearest' };

/** The part as it arrives, calculated there. */
function elsewhere(plan: Plan, data: ScenarioData, block: string): { plan: Plan; data: ScenarioData } {
	const parcel = packScenario(structure, partAround(plan, data, block));
	const read = unpackScenario(packageFromBytes(packageToBytes(parcel)));
	return { plan: calculateScenario(read.structure, read.data), data: read.data };
}
const figures = ({ calculation }: Plan, block: string) =>
	calculation.block(block).lines.map(({ code }) => {
		const { values, marks } = calculation.matrix(block, code);
		return [code, [...values], marks && [...marks].some(Boolean) ? [...marks] : []];
	});

/** Null where weeks and months need each other: between calendars nothing is a month back. */
function calculable(data: ScenarioData): Plan | null {
	try {
		return calculateScenario(structure, data);
	} catch (e) {
		if (e instanceof ModelError) return null;
		throw e;
	}
}

/** A line that reads what it is told to of the month before, so that nothing is a circle. */
const reading = (reads: readonly string[]) =>
	['typed', ...reads.map((read) => `coalesce(lag(${read}, 1), 0) / 2`)].join(' + ');
const SOURCES = ['a.typed', 'a.made', 'b.typed', 'b.made', 'w.made'].concat(
	ACCOUNTS.map((code) => `account("${code}")`)
);
interface Model {
	reads: readonly string[];
	posts: string | null;
}
const model = (code: string, { reads, posts }: Model) => ({
	definition: ModelDefinition.parse({
		code,
		name: code,
		...(code === 'w' ? { calendar: WEEKS } : {}),
		dimensions: ['department'],
		lines: [
			{ code: 'typed', label: 'Typed' },
			{ code: 'made', label: 'Made', formula: reading(reads.filter((read) => !read.startsWith(`${code}.`))) }
		],
		postings: posts
			? [{ line: 'made', account: { code: posts }, department: { attribute: 'department.code' } }]
			: []
	}),
	rows: DEPARTMENTS.map((department) => [department])
});
const someModel = fc.record({
	reads: fc.uniqueArray(fc.constantFrom(...SOURCES), { maxLength: 3 }),
	posts: fc.option(fc.constantFrom(...ACCOUNTS), { nil: null })
});

describe('a part of a scenario', () => {
	it('gives what the whole gives, whatever its blocks read, post and have typed in them', () => {
		let smaller = 0;
		fc.assert(
			fc.property(
				fc.record({ a: someModel, b: someModel, w: someModel }),
				fc.option(fc.constantFrom(...ACCOUNTS.slice(1)), { nil: null }),
				fc.constantFrom('a', 'b', 'w'),
				fc.array(fc.record({ row: fc.nat(1), t: fc.nat(7), value: fc.option(fc.nat(900), { nil: null }) }), {
					minLength: 1,
					maxLength: 4
				}),
				(models, share, block, edits) => {
					const basis: Basis = { kind: 'percent-of', percent: 0.5, account: 'sales' };
					const data = yearFrom(OPEN, {
						models: Object.entries(models).map(([code, own]) => model(code, own)),
						series: ['a', 'b'].flatMap((code) =>
							DEPARTMENTS.map((row, r) => ({
								block: code,
								line: 'typed',
								row,
								first: OPEN,
								values: Float64Array.from({ length: 12 }, (_, t) => 100 * r + 7 * t + code.charCodeAt(0))
							}))
						),
						bases: share ? DEPARTMENTS.map((department) => ({ account: share, department, basis })) : []
					});
					const whole = calculable(data);
					fc.pre(whole !== null);
					const part = elsewhere(whole, data, block);
					if (part.data.part) smaller++;
					expect(figures(part.plan, block)).toEqual(figures(whole, block));
					for (const { calculation, inputs } of [whole, part.plan]) {
						const { open } = calculation.axisOf(block);
						for (const { row, t, value } of edits)
							inputs.setInput(calculation, block, 'typed', row, open + t, value);
						calculation.recalculate();
					}
					expect(figures(part.plan, block)).toEqual(figures(whole, block));
				}
			),
			{ numRuns: 300 }
		);
		// Else it would say nothing of parts.
		expect(smaller).toBeGreaterThan(100);
	});

	const SELLERS = ScheduleDefinition.parse({
		code: 'sellers',
		name: 'Sellers',
		named: 'name',
		divided: true,
		columns: [
			{ code: 'name', label: 'Name', kind: 'text' },
			{ code: 'home', label: 'Department', kind: 'department', required: true },
			{ code: 'rate', label: 'Commission', kind: 'percent' },
			{ code: 'of', label: 'Commission on', kind: 'account' },
			{ code: 'to', label: 'Posted to', kind: 'account', required: true }
		],
		lines: [{ code: 'earned', label: 'Commission', formula: 'rate * lag(account(of), 1)' }],
		postings: [{ line: 'earned', account: { column: 'to' } }]
	});
	const seller = (id: string, values: ScheduleRow['values'], shares?: string[]): ScheduleRow => ({
		id,
		values: { name: id, home: 'shop', rate: 0.02, of: 'sales', to: 'pay', ...values },
		...(shares ? { shares } : {})
	});
	const ROWS = [seller('p', {}), seller('q', { rate: 0.05, home: 'turku' }), seller('r', {}, ['turku'])];
	/** Sales are half of what is posted as fees. */
	const data = yearFrom(OPEN, {
		schedules: [{ definition: SELLERS, rows: ROWS }],
		series: DEPARTMENTS.map((row, r) => ({
			block: ACCOUNTS_BLOCK,
			line: 'sales',
			row,
			first: OPEN,
			values: Float64Array.of(1000 + r, 2000, 3000)
		})),
		bases: DEPARTMENTS.map((department) => ({
			account: 'sales',
			department,
			basis: { kind: 'percent-of', percent: 0.5, account: 'fees' }
		}))
	});
	const whole = calculateScenario(structure, data);
	const spans = [0, 1, 2].map((t) => ({ from: OPEN + t, to: OPEN + t }));
	const query = { schedule: 'sellers', spans, line: 'earned' };
	const previews = () => {
		const part = packScenario(structure, partAround(whole, data, 'sellers_shares'));
		return [part, packScenario(structure, data)].map((parcel) => new SchedulePreview(parcel, 'sellers'));
	};
	const changed = (id: string, values: Record<string, string | number>) => ({
		rows: Object.entries(values).map(([column, value]) => ({
			kind: 'set' as const,
			id,
			column,
			before: ROWS.find((r) => r.id === id)!.values[column] ?? null,
			value
		})),
		months: []
	});

	it('of a schedule leaves out the accounts that it reads and does not post to, and shows the same of its rows', () => {
		const { data: own } = elsewhere(whole, data, 'sellers_shares');
		expect(own.part).toEqual(['sellers', 'sellers_shares']);
		expect([...own.given!.blocks.get(ACCOUNTS_BLOCK)!.lines.keys()]).toEqual(['sales']);
		expect([...own.given!.accounts].sort()).toEqual(['fees', 'sales']);
		const tried: Record<string, string | number>[] = [{ rate: 0.5 }, { home: 'turku' }, { to: 'rent' }];
		for (const values of tried) {
			const [part, all] = previews().map((p) => p.figures(changed('p', values), query));
			expect(part).toEqual(all);
			const cells = 'rate' in values ? [0, 500, 1000] : 'home' in values ? [0, 20.02, 40] : [0, 20, 40];
			expect(part.rows[0].cells).toEqual(cells);
		}
	});
	it('says that it is too small where rows come to read or post what it does not have', () => {
		const [part, all] = previews();
		// Sales would be half of what the row comes to.
		const tried: Record<string, string>[] = [{ to: 'fees' }, { of: 'rent' }];
		for (const values of tried) {
			expect(() => part.figures(changed('p', values), query)).toThrow(PartTooSmall);
			expect(all.figures(changed('p', values), query).rows).toHaveLength(3);
		}
		expect(part.figures({ rows: [], months: [] }, query).rows).toHaveLength(3);
	});
	it('is the whole where what it posts comes back to it', () => {
		const own = { ...data, schedules: [{ definition: SELLERS, rows: [seller('p', { to: 'fees' })] }] };
		expect(partAround(calculateScenario(structure, own), own, 'sellers_shares')).toBe(own);
	});
});
