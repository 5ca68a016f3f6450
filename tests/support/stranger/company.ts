/**
 * A company unlike any other, made at random from a seed: chart, fiscal year, departments, dimensions, driver models that
 * lean on each other, bases, adjustments, scenarios in a chain, and a ledger. As the plain data that a folder holds.
 */
import { plainCalendar } from './calendar';
import { companyOf, type CompanyData } from '../../../src/lib/server/company/subjects';
import type { Entry } from '../../../src/lib/server/company/subjects/entries';
import { scenarioOf, type ScenarioRecord } from '../../../src/lib/server/company/subjects/scenarios';

/** Numbers that look random and are the same for the same seed (mulberry32). */
export class Dice {
	constructor(private state: number) {}
	/** From 0, less than 1. */
	next(): number {
		this.state = (this.state + 0x6d2b79f5) | 0;
		let t = Math.imul(this.state ^ (this.state >>> 15), 1 | this.state);
		t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
		return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
	}
	/** A whole number from `from` to `to`. */
	whole(from: number, to: number): number {
		return from + Math.floor(this.next() * (to - from + 1));
	}
	pick<T>(list: readonly T[]): T {
		return list[this.whole(0, list.length - 1)];
	}
	chance(share: number): boolean {
		return this.next() < share;
	}
	/** Some of a list, in its order. */
	some<T>(list: readonly T[], share: number): T[] {
		return list.filter(() => this.chance(share));
	}
	/** An amount with two decimals. */
	amount(most: number): number {
		return this.whole(-most * 20, most * 100) / 100;
	}
}

/** A calendar of any kind. */
function anyCalendar(dice: Dice): CompanyData['company']['calendar'] {
	const fiscalStart = dice.whole(1, 12);
	if (dice.chance(0.4))
		return { kind: 'months', fiscalStart, dayCount: dice.pick(['actual', '30/360'] as const) };
	return {
		kind: 'weeks',
		grouping: dice.pick(['4-4-5', '4-5-4', '5-4-4', '13x4', 'weeks'] as const),
		fiscalStart,
		endsOn: dice.whole(1, 7),
		rule: dice.pick(['last', 'nearest'] as const)
	};
}

type Definition = ScenarioRecord['definitions'][number];
type Line = Definition['lines'][number];
const line = (code: string, more: Partial<Line> = {}): Line => ({
	code,
	label: code,
	unit: '',
	format: 'number',
	rollup: { time: 'sum', members: 'sum' },
	closed: 'blank',
	extend: 'year-ago',
	...more
});

export function strangersCompany(seed: number): CompanyData {
	const dice = new Dice(seed);
	const spec = anyCalendar(dice);
	const calendar = plainCalendar(spec);
	const letter = spec.kind === 'months' ? '' : spec.grouping === 'weeks' ? 'W' : 'P';
	const ledgerFirst = calendar.of(`2024-${letter}${String(dice.whole(1, 12)).padStart(2, '0')}`);
	const ledgerLast = ledgerFirst + dice.whole(15, 22);
	const closedThrough = ledgerLast - 2;

	const departments = [{ code: 'all', name: 'All', parent: null as string | null, entity: 'e' }];
	for (let g = 0; g < dice.whole(1, 3); g++) {
		departments.push({ code: `g${g}`, name: `Group ${g}`, parent: 'all', entity: 'e' });
		for (let d = 0; d < dice.whole(1, 3); d++)
			departments.push({ code: `d${g}${d}`, name: `Department ${g}${d}`, parent: `g${g}`, entity: 'e' });
	}
	const leaves = departments.filter((d) => !departments.some((c) => c.parent === d.code)).map((d) => d.code);

	const accounts: CompanyData['accounts'] = [];
	const account = (
		code: string,
		parent: string | null,
		type: CompanyData['accounts'][number]['type'],
		rollup: 'sum' | 'last' | 'average' = 'sum'
	) => accounts.push({ code, name: code, parent, type, rollup, format: 'money' });
	account('profit', null, 'revenue');
	account('sales', 'profit', 'revenue');
	account('costs', 'profit', 'expense');
	for (let i = 0; i < dice.whole(2, 3); i++) account(`s${i}`, 'sales', 'revenue');
	for (let i = 0; i < dice.whole(3, 5); i++) account(`c${i}`, 'costs', 'expense');
	account('figures', null, 'statistical');
	for (const rollup of ['sum', 'last', 'average'] as const)
		account(`f-${rollup}`, 'figures', 'statistical', rollup);
	account('assets', null, 'asset');
	account('cash', 'assets', 'asset', 'last');
	const planned = accounts
		.filter((a) => a.type !== 'asset' && !accounts.some((c) => c.parent === a.code))
		.map((a) => a.code);
	const ledgerAccounts = [...planned, 'cash'].flatMap((a) =>
		Array.from({ length: dice.whole(1, 2) }, (_, i) => ({
			code: `L-${a}-${i}`,
			name: `${a} ${i}`,
			account: a
		}))
	);

	const dimensions = ['product', 'region'].map((code) => {
		const members = [
			{
				code: `${code}-top`,
				name: `${code} top`,
				parent: null as string | null,
				retired: false,
				attributes: {}
			}
		];
		for (let m = 0; m < dice.whole(2, 3); m++)
			members.push({
				code: `${code}${m}`,
				name: `${code} ${m}`,
				parent: dice.chance(0.7) ? `${code}-top` : null,
				retired: false,
				attributes: { into: dice.pick(['s0', 's1']) } as Record<string, string>
			});
		if (!members.some((m) => m.parent)) members[1].parent = `${code}-top`;
		return { code, name: code, members };
	});
	const membersOf = (dimension: string) => {
		if (dimension === 'department') return leaves;
		const { members } = dimensions.find((d) => d.code === dimension)!;
		return members.filter((m) => !members.some((c) => c.parent === m.code)).map((m) => m.code);
	};

	const extend = () => dice.pick(['year-ago', 'last', 'blank'] as const);
	const kept = () => dice.pick(['blank', 'keep'] as const);
	const time = () => dice.pick(['sum', 'last', 'average'] as const);
	const assumptions: Definition = {
		code: 'base',
		name: 'Assumptions',
		description: '',
		dimensions: [],
		lines: [
			line('index', { closed: 'keep', extend: extend(), rollup: { time: time(), members: 'sum' } }),
			line('grown', {
				formula: 'if(is_blank(opening(grown)), 1, opening(grown)) * (1 + index / 100)',
				closed: kept()
			})
		],
		postings: []
	};
	const trade: Definition = {
		code: 'trade',
		name: 'Trade',
		description: '',
		dimensions: ['product', 'department'],
		lines: [
			line('units', { extend: extend(), closed: kept() }),
			line('price', {
				extend: extend(),
				closed: 'keep',
				rollup: { time: dice.pick(['formula', 'sum', 'average', 'last'] as const), members: 'weighted:units' }
			}),
			line('level', {
				extend: extend(),
				rollup: { time: time(), members: dice.pick(['sum', 'average'] as const) }
			}),
			line('income', {
				formula: 'units * price * base.grown',
				closed: 'actuals',
				...(dice.chance(0.6)
					? {
							scoped: [
								{
									where: { product: 'product-top' } as Record<string, string>,
									from: calendar.name(closedThrough + dice.whole(1, 6)),
									formula: 'units * price * 2 - 7'
								}
							]
						}
					: {})
			}),
			line('mean', {
				formula: 'ratio(income, units)',
				rollup: { time: 'formula', members: 'formula' },
				actual: 'ratio(income, level)'
			}),
			line('part', { formula: 'share(units, product)', rollup: { time: 'average', members: 'sum' } }),
			line('before', { formula: 'year_ago(units) + lag(income, 1)' })
		],
		postings: [
			{
				line: 'income',
				account: { attribute: 'product.into' },
				department: { attribute: 'department.code' },
				where: {}
			}
		]
	};
	const people: Definition = {
		code: 'people',
		name: 'People',
		description: '',
		dimensions: ['department'],
		lines: [
			line('heads', { extend: extend(), closed: kept(), rollup: { time: 'last', members: 'sum' } }),
			line('pay', { formula: 'heads * (100 + base.index) + trade.units / 10', closed: 'actuals' }),
			line('whole', {
				formula: 'total(account("c1"), department)',
				rollup: { time: 'sum', members: 'average' }
			}),
			line('stock', {
				formula: 'opening(stock) + heads - lag(heads, 3)',
				rollup: { time: 'last', members: 'sum' }
			})
		],
		postings: [
			{ line: 'pay', account: { code: 'c0' }, department: { attribute: 'department.code' }, where: {} }
		]
	};
	const models = [assumptions, trade, people].map((definition) => {
		const rows = definition.dimensions.reduce<string[][]>(
			(some, d) => some.flatMap((r) => membersOf(d).map((m) => [...r, m])),
			[[]]
		);
		const own = rows.filter((_, i) => i === 0 || dice.chance(0.8));
		return { definition, rows: definition.dimensions.length ? own : [] };
	});
	const definitions = [assumptions, trade, people];

	const entries: Entry[] = [];
	for (let p = ledgerFirst; p <= ledgerLast; p++)
		for (const l of ledgerAccounts)
			for (const department of leaves) {
				if (dice.chance(0.4)) continue;
				const tags: Record<string, string> = {};
				if (dice.chance(0.6)) tags.product = dice.pick(membersOf('product'));
				if (dice.chance(0.3)) tags.region = dice.pick(membersOf('region'));
				entries.push({
					period: p,
					date: calendar.day(p, dice.whole(0, 27)),
					ledgerAccount: l.code,
					department,
					amount: dice.amount(500),
					document: '',
					party: '',
					description: '',
					tags
				});
			}

	const series = (first: number, last: number): ScenarioRecord['series'] => {
		const found: ScenarioRecord['series'] = [];
		const add = (block: string, code: string, row: string, share: number) => {
			const values = Float64Array.from({ length: last - first + 1 }, () =>
				dice.chance(share) ? dice.amount(90) : NaN
			);
			const held = [...values.keys()].filter((i) => !Number.isNaN(values[i]));
			if (!held.length) return;
			const [a, b] = [held[0], held.at(-1)!];
			found.push({ block, line: code, row, first: first + a, values: values.slice(a, b + 1) });
		};
		for (const d of definitions)
			for (const l of d.lines)
				if (l.formula === undefined)
					for (const row of d.dimensions.length ? models.find((m) => m.definition === d)!.rows : [[]])
						add(d.code, l.code, row.join('|'), dice.pick([1, 0.8, 0.2]));
		for (const a of planned)
			for (const d of leaves) if (dice.chance(0.5)) add('accounts', a, d, dice.pick([1, 0.4, 0.1]));
		return found;
	};
	const bases = (): ScenarioRecord['bases'] =>
		planned.flatMap((a, i) =>
			dice.some(leaves, 0.7).map((department) => ({
				account: a,
				department,
				basis: dice.pick([
					{ kind: 'last-year' as const, percent: dice.whole(-20, 20) / 100 },
					// Of one that stands before it in the chart, so that no circle is closed.
					...(i
						? [{ kind: 'percent-of' as const, percent: dice.whole(1, 90) / 100, account: planned[i - 1] }]
						: []),
					{ kind: 'run-rate' as const, months: dice.whole(1, 8) },
					{ kind: 'driver' as const, driver: 'trade.units', rate: dice.whole(1, 9) / 4 },
					{ kind: 'driver' as const, driver: 'base.index', rate: 2 },
					{ kind: 'typed' as const }
				])
			}))
		);
	const adjustments = (first: number, last: number): ScenarioRecord['adjustments'] =>
		Array.from({ length: dice.whole(0, 3) }, (_, i) => {
			const onAccounts = dice.chance(0.6);
			const lines = onAccounts
				? [{ block: 'accounts', line: dice.pick(planned) }]
				: [{ block: 'trade', line: dice.pick(['units', 'price', 'level']) }];
			const where: Record<string, string> = {};
			if (dice.chance(0.5)) where.department = dice.pick(departments).code;
			if (!onAccounts && dice.chance(0.5))
				where.product = dice.pick(['product-top', ...membersOf('product')]);
			const from = dice.whole(first, last);
			const scope = {
				lines,
				where,
				...(dice.chance(0.6) ? { from: calendar.name(from) } : {}),
				...(dice.chance(0.4) ? { to: calendar.name(dice.whole(from, last)) } : {})
			};
			const step = dice.chance(0.3)
				? { operation: 'shift' as const, periods: dice.pick([-2, -1, 1, 2, 3]), ...scope }
				: {
						operation: dice.pick(['multiply', 'add', 'set'] as const),
						value: dice.whole(-8, 12) / 4,
						...scope
					};
			return { code: `a${i}`, name: `Adjustment ${i}`, on: dice.chance(0.8), adopted: null, steps: [step] };
		});
	const scenarios: ScenarioRecord[] = [];
	const scenario = (
		code: string,
		kind: ScenarioRecord['scenario']['kind'],
		first: number,
		last: number,
		actualsThrough: number | null,
		follows: string | null
	) =>
		scenarios.push(
			scenarioOf({
				scenario: {
					code,
					name: code,
					kind,
					first,
					last,
					actualsThrough,
					follows
				},
				definitions,
				series: series(first, last),
				bases: bases(),
				adjustments: adjustments(Math.max(first, (actualsThrough ?? first - 1) + 1), last)
			})
		);
	const first = closedThrough - dice.whole(2, 6);
	const last = closedThrough + dice.whole(6, 16);
	scenario('budget', 'budget', first, last, dice.pick([null, first - 1]), null);
	scenario('forecast', 'forecast', first, last + dice.whole(0, 3), closedThrough, null);
	const next = last - dice.whole(0, 2) + 1;
	scenario(
		'next',
		'budget',
		next,
		next + dice.whole(8, 20),
		dice.pick([closedThrough, closedThrough - 1]),
		'forecast'
	);
	scenario('later', 'what-if', next + 3, next + dice.whole(9, 24), closedThrough, 'next');

	return companyOf({
		company: {
			name: `Stranger ${seed}`,
			currency: 'CHF',
			calendar: spec,
			decimals: 2
		},
		closedThrough,
		accounts,
		ledgerAccounts,
		entities: [{ code: 'e', name: 'E', currency: 'CHF' }],
		departments,
		dimensions,
		models,
		scenarios,
		entries,
		users: [{ email: 'ana@stranger.example', name: 'Ana', role: 'analyst', departments: ['all'], pay: true }]
	});
}
