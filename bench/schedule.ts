/** A schedule of people against hand-written loops over the same arrays: pay, tax up to a cap, benefits, shares, postings. */
import { monthCalendar } from '../src/lib/core/calendar/calendar';
import { fromIsoDate, toIsoDate } from '../src/lib/core/calendar/dates';
import { ScheduleDefinition, type ScheduleRow } from '../src/lib/core/blocks/schedule/schema';
import { buildStructure } from '../src/lib/core/company/structure';
import { ACCOUNTS_BLOCK } from '../src/lib/core/engine/spec';
import { calculateScenario } from '../src/lib/core/scenario/assemble';
import { median, medians, report } from './measure';

const PEOPLE = 5000;
const MONTHS = 36;
const DEPARTMENTS = 40;
const CAP = 50_000;

const STAFF = ScheduleDefinition.parse({
	code: 'staff',
	name: 'Staff',
	named: 'name',
	divided: true,
	columns: [
		{ code: 'name', label: 'Name', kind: 'text' },
		{ code: 'home', label: 'Department', kind: 'department', required: true },
		{ code: 'annual', label: 'Annual pay', kind: 'money' },
		{ code: 'start', label: 'Start', kind: 'date' },
		{ code: 'end', label: 'End', kind: 'date' },
		{ code: 'tax_rate', label: 'Tax', kind: 'percent' },
		{ code: 'benefit', label: 'Benefits of a month', kind: 'money' },
		{ code: 'bonus_rate', label: 'Bonus', kind: 'percent' }
	],
	lines: [
		{ code: 'raise', label: 'Raise', format: 'percent', adds: false },
		{
			code: 'raises',
			label: 'Raises in force',
			format: 'percent',
			adds: false,
			formula: 'if(is_blank(opening(raises)), 1, opening(raises)) * (1 + raise)'
		},
		{ code: 'fte', label: 'FTE', format: 'number', time: 'average', formula: 'active(start, end)' },
		{ code: 'pay', label: 'Pay', formula: 'annual / 12 * raises * fte' },
		{ code: 'taxed', label: 'Taxed pay', formula: `capped(pay, ${CAP})` },
		{ code: 'tax', label: 'Tax', formula: 'tax_rate * taxed' },
		{ code: 'benefits', label: 'Benefits', formula: 'benefit * fte' },
		{ code: 'bonus', label: 'Bonus', formula: 'bonus_rate * pay' },
		{ code: 'cost', label: 'Cost', formula: 'pay + tax + benefits + bonus' },
		{ code: 'to_date', label: 'Cost so far', time: 'last', formula: 'opening(to_date) + cost' }
	],
	postings: ['pay', 'tax', 'benefits', 'bonus'].map((line) => ({ line, account: { code: line } }))
});

export function benchSchedule(): void {
	const calendar = monthCalendar(1);
	const first = calendar.parse('2027-01')!;
	let seed = 4711;
	const random = () => (seed = (seed * 1103515245 + 12345) % 2147483648) / 2147483648;
	const firstDay = fromIsoDate('2025-06-01')!;
	const structure = buildStructure(
		calendar,
		['pay', 'tax', 'benefits', 'bonus'].map((code) => ({
			code,
			name: code,
			parent: null,
			type: 'expense',
			rollup: 'sum',
			format: 'money'
		})),
		[
			{ code: 'all', name: 'All', parent: null, entity: 'e' },
			...Array.from({ length: DEPARTMENTS }, (_, i) => ({
				code: `d${i}`,
				name: `D${i}`,
				parent: 'all',
				entity: 'e'
			}))
		],
		[],
		'GBP'
	);
	const people = Array.from({ length: PEOPLE }, (_, i) => {
		const start = firstDay + Math.floor(random() * 900);
		return {
			id: `p${i}`,
			home: i % DEPARTMENTS,
			annual: 20_000 + Math.floor(random() * 80_000),
			start,
			end: random() < 0.2 ? start + Math.floor(random() * 900) : null,
			rate: random() < 0.5 ? 0.08 : 0.12,
			benefit: 100 + Math.floor(random() * 200),
			bonus: random() < 0.3 ? 0.05 : 0,
			raisedIn: Math.floor(random() * MONTHS),
			divided: i % 10 === 0
		};
	});
	const rows = people.map((p): ScheduleRow => ({
		id: p.id,
		values: {
			name: p.id,
			home: `d${p.home}`,
			annual: p.annual,
			start: toIsoDate(p.start),
			...(p.end === null ? {} : { end: toIsoDate(p.end) }),
			tax_rate: p.rate,
			benefit: p.benefit,
			bonus_rate: p.bonus
		},
		...(p.divided ? { shares: [`d${(p.home + 1) % DEPARTMENTS}`] } : {})
	}));
	const months = (value: number) => new Float64Array(MONTHS).fill(value);
	const series = people.flatMap((p) => [
		{ block: 'staff', line: 'raise', row: p.id, first: first + p.raisedIn, values: Float64Array.of(0.03) },
		...(p.divided
			? [0.6, 0.4].map((share, i) => ({
					block: 'staff_shares',
					line: 'share',
					row: `${p.id}|d${(p.home + i) % DEPARTMENTS}`,
					first,
					values: months(share)
				}))
			: [])
	]);
	const plan = calculateScenario(structure, {
		scenario: {
			code: 's',
			name: 'S',
			kind: 'budget',
			first,
			last: first + MONTHS - 1,
			actualsThrough: null,
			follows: null,
			origin: null,
			locked: false,
			description: ''
		},
		models: [],
		schedules: [{ definition: STAFF, rows }],
		series,
		bases: [],
		history: { first, accounts: new Map() }
	});
	const { calculation } = plan;
	const { length, first: begins } = calculation.axisOf('staff');
	const hand = byHand(
		people,
		Array.from({ length }, (_, t) => [
			fromIsoDate(calendar.firstDay(begins + t))!,
			fromIsoDate(calendar.lastDay(begins + t))!
		]),
		first - begins,
		begins
	);
	hand.run();
	for (const [i, account] of ['pay', 'tax', 'benefits', 'bonus'].entries())
		for (let d = 0; d < DEPARTMENTS; d++)
			for (let t = first - begins; t < length; t++) {
				const ours = calculation.cell(
					ACCOUNTS_BLOCK,
					account,
					plan.accounts.rowAt(`d${d}`),
					begins + t
				) as number;
				const other = hand.posted[i][t * DEPARTMENTS + d];
				if (Math.abs(ours - other) > 1e-6 * Math.max(1, Math.abs(other)))
					throw new Error(`${account} of d${d} in ${t}: ${ours}, by hand ${other}`);
			}
	const [ours, other] = medians(
		() => calculation.calculate(),
		() => hand.run(),
		31,
		8
	);
	report(
		'schedule.full.vs_limit',
		ours,
		other,
		'ms',
		`${PEOPLE} people × ${length} months × 10 lines, posted`
	);
	// A start that moves, and with it everything of one person.
	const start = people[77].start;
	let later = false;
	const cost = () => calculation.cell('staff', 'to_date', 77, begins + length - 1);
	const before = cost();
	const edit = median(() => {
		later = !later;
		calculation.setInput('staff', 'start', 77, 0, later ? start + 45 : start);
		calculation.recalculate();
	});
	if (later === (cost() === before)) throw new Error('the start was not moved');
	report('schedule.edit.vs_full', edit, ours, 'ms', 'the start of one person, to accounts and totals');
}

interface Person {
	home: number;
	annual: number;
	start: number;
	end: number | null;
	rate: number;
	benefit: number;
	bonus: number;
	raisedIn: number;
	divided: boolean;
}

/** The same arithmetic in plain loops, a matrix a line. */
function byHand(people: readonly Person[], days: readonly number[][], open: number, begins: number) {
	const [n, length] = [people.length, days.length];
	const matrix = () => new Float64Array(n * length);
	const [raise, raises, fte, pay, taxed, tax, benefits, bonus, cost, toDate] = Array.from(
		{ length: 10 },
		matrix
	);
	people.forEach((p, r) => (raise[(open + p.raisedIn) * n + r] = 0.03));
	const year = days.map((_, t) => Math.floor((begins + t) / 12));
	const column = (of: (p: Person) => number) => Float64Array.from(people, of);
	const [annual, start, rate] = [column((p) => p.annual), column((p) => p.start), column((p) => p.rate)];
	const [end, benefit, bonusRate] = [
		column((p) => p.end ?? Infinity),
		column((p) => p.benefit),
		column((p) => p.bonus)
	];
	const parts = people.flatMap((p, r) =>
		p.divided
			? [
					{ r, d: p.home, share: 0.6 },
					{ r, d: (p.home + 1) % DEPARTMENTS, share: 0.4 }
				]
			: [{ r, d: p.home, share: 1 }]
	);
	const posted = Array.from({ length: 4 }, () => new Float64Array(DEPARTMENTS * length));
	const shared = Array.from({ length: 8 }, () => new Float64Array(parts.length * length));
	const soFar = new Float64Array(n);
	return {
		posted,
		run() {
			for (let t = 0; t < length; t++) {
				const [a, b] = days[t];
				if (t === 0 || year[t] !== year[t - 1]) soFar.fill(0);
				for (let r = 0, i = t * n; r < n; r++, i++) {
					raises[i] = (t === 0 ? 1 : raises[i - n]) * (1 + raise[i]);
					const active = Math.min(b, end[r]) - Math.max(a, start[r]) + 1;
					fte[i] = active > 0 ? active / (b - a + 1) : 0;
					pay[i] = (annual[r] / 12) * raises[i] * fte[i];
					taxed[i] = Math.min(pay[i], Math.max(0, CAP - soFar[r]));
					soFar[r] += pay[i];
					tax[i] = rate[r] * taxed[i];
					benefits[i] = benefit[r] * fte[i];
					bonus[i] = bonusRate[r] * pay[i];
					cost[i] = pay[i] + tax[i] + benefits[i] + bonus[i];
					toDate[i] = (t === 0 ? 0 : toDate[i - n]) + cost[i];
				}
			}
			[fte, pay, taxed, tax, benefits, bonus, cost, toDate].forEach((from, k) => {
				const into = shared[k];
				for (let t = 0; t < length; t++)
					for (let j = 0, i = t * parts.length; j < parts.length; j++, i++)
						into[i] = from[t * n + parts[j].r] * parts[j].share;
			});
			[1, 3, 4, 5].forEach((k, account) => {
				const into = posted[account].fill(0);
				for (let t = 0; t < length; t++)
					for (let j = 0; j < parts.length; j++)
						into[t * DEPARTMENTS + parts[j].d] += shared[k][t * parts.length + j];
			});
		}
	};
}
