/**
 * A made-up bakery whose years are whole weeks and end on the Saturday nearest to 31 August, as the files of a company
 * folder, and everything that is expected of it, worked out from the same raw rows without the product's own code.
 */

/** First days of fiscal years; FY28 has 53 weeks. */
const YEARS: Record<number, string> = {
	2026: '2025-08-31',
	2027: '2026-08-30',
	2028: '2027-08-29',
	2029: '2028-09-03',
	2030: '2029-09-02'
};
const DAY = 86_400_000;
const dayAt = (iso: string, days: number) =>
	new Date(Date.parse(iso) + days * DAY).toISOString().slice(0, 10);

/** How weeks are put together, and how the company says so. */
export interface Weeks {
	grouping: 'weeks' | '13x4' | '4-4-5';
	/** Weeks of each period in a year of 52. */
	weeks: readonly number[];
}
const repeated = (list: number[], times: number) => Array<number[]>(times).fill(list).flat();
export const QUARTERS_OF_WEEKS: Weeks = { grouping: '4-4-5', weeks: repeated([4, 4, 5], 4) };
export const THIRTEEN: Weeks = { grouping: '13x4', weeks: repeated([4], 13) };
export const SINGLE_WEEKS: Weeks = { grouping: 'weeks', weeks: repeated([1], 52) };

export interface RawPeriod {
	key: string;
	first: string;
	last: string;
}

/** Periods of all years from FY26 to FY29, in order. */
export function rawPeriods({ grouping, weeks }: Weeks): RawPeriod[] {
	const letter = grouping === 'weeks' ? 'W' : 'P';
	return Object.entries(YEARS).flatMap(([year, start]) => {
		const next = YEARS[Number(year) + 1];
		if (!next) return [];
		const all = (Date.parse(next) - Date.parse(start)) / DAY / 7;
		const lengths = [...weeks];
		if (all === 53) {
			// A leap week is a week of its own, or makes the last period longer.
			if (grouping === 'weeks') lengths.push(1);
			else lengths[lengths.length - 1]++;
		}
		let day = start;
		return lengths.map((n, i) => {
			const first = day;
			day = dayAt(day, n * 7);
			return { key: `${year}-${letter}${String(i + 1).padStart(2, '0')}`, first, last: dayAt(day, -1) };
		});
	});
}

export interface RawEntry {
	date: string;
	ledger: string;
	department: string;
	/** Cents, debit positive. */
	cents: number;
}

/** Ledger accounts: the planning account each is part of, in which department, and how large a day's amount is. */
const LEDGER = [
	{ code: 'L-100', account: 'sales', department: 'shop', size: -90_000 },
	{ code: 'L-110', account: 'sales', department: 'shop', size: -35_000 },
	{ code: 'L-200', account: 'flour', department: 'shop', size: 31_000 },
	{ code: 'L-300', account: 'wages', department: 'ovens', size: 44_000 },
	{ code: 'L-400', account: 'rent', department: 'ovens', size: 20_000 },
	{ code: 'L-500', account: 'energy', department: 'ovens', size: 13_000 },
	{ code: 'L-600', account: 'delivery', department: 'shop', size: 9_000 }
];

/** Entries of every account on the first, a middle and the last day of each week, from FY26 to the end of FY28. */
export const ENTRIES: readonly RawEntry[] = LEDGER.flatMap(({ code, department, size }, a) =>
	Array.from({ length: (52 + 52 + 53) * 7 }, (_, d) => d)
		.filter((d) => [0, 3, 6].includes(d % 7))
		.map((d) => ({
			date: dayAt(YEARS[2026], d),
			ledger: code,
			department,
			cents: size + ((d * 7919 + a * 104_729) % 9_973)
		}))
);

/** What an account holds from one day to another, in its natural sign. */
export function actual(account: string, first: string, last: string): number {
	const own = new Set(LEDGER.filter((l) => l.account === account).map((l) => l.code));
	const cents = ENTRIES.filter((e) => own.has(e.ledger) && e.date >= first && e.date <= last).reduce(
		(sum, e) => sum + e.cents,
		0
	);
	return (account === 'sales' ? -cents : cents) / 100;
}

export const PRODUCTS = ['bread', 'cake'] as const;
/** What was typed, by place of the period in its year. */
export const typedDrops = (product: number, place: number) => 400 + 30 * product + 5 * place;
export const PRICES = [2.5, 4.75];
export const typedWages = (place: number) => 5_000 + 25 * place;

export const entriesFile = (period: RawPeriod): string =>
	[
		'date,ledger_account,department,amount,document,party,description',
		...ENTRIES.filter((e) => e.date >= period.first && e.date <= period.last).map(
			(e, i) => `${e.date},${e.ledger},${e.department},${(e.cents / 100).toFixed(2)},D${i},,`
		)
	].join('\n') + '\n';

const MODEL = {
	code: 'orders',
	name: 'Orders',
	description: '',
	dimensions: ['product'],
	lines: [
		{ code: 'drops', label: 'Drops', closed: 'keep', extend: 'year-ago' },
		{
			code: 'price',
			label: 'Price',
			format: 'price',
			closed: 'keep',
			extend: 'last',
			rollup: { time: 'last', members: 'average' }
		},
		{ code: 'revenue', label: 'Revenue', format: 'money', formula: 'drops * price' },
		{ code: 'before', label: 'The year before', formula: 'year_ago(drops)' }
	],
	postings: [{ line: 'revenue', account: { code: 'sales' }, department: { code: 'shop' } }]
};

/**
 * The folder: its ledger through `through`, a budget of FY28 and FY29, and a forecast that begins after it.
 * @param through key of the last closed period
 */
export function weeksCompany(weeks: Weeks, through: string): Map<string, string> {
	const periods = rawPeriods(weeks);
	const closed = periods.findIndex((p) => p.key === through);
	const of = (year: number) => periods.filter((p) => p.key.startsWith(String(year)));
	const plan = [...of(2028), ...of(2029)];
	const place = (key: string) => Number(key.slice(-2)) - 1;
	const values = (from: RawPeriod[]) =>
		[
			['block', 'line', 'row', ...from.map((p) => p.key)],
			['accounts', 'wages', 'ovens', ...from.map((p) => typedWages(place(p.key)))],
			...PRODUCTS.flatMap((row, i) => [
				['orders', 'drops', row, ...from.map((p) => typedDrops(i, place(p.key)))],
				['orders', 'price', row, ...from.map(() => PRICES[i])]
			])
		]
			.map((r) => r.join(','))
			.join('\n') + '\n';
	const bases = `account,department,basis,percent,of_account,months,driver,rate
wages,ovens,typed,,,,,
rent,ovens,last-year,0.03,,,,
energy,ovens,run-rate,,,3,,
flour,shop,percent-of,0.3,sales,,,
delivery,shop,driver,,,,orders.drops,0.45
`;
	const account = (code: string, parent: string, type: string) =>
		`${code},${code},${parent},${type},sum,money`;
	const [first, last] = [plan[0].key, plan.at(-1)!.key];
	/** The forecast's window ends with the year in which it was made. */
	const ends = of(2029)[Math.min(place(through), of(2029).length - 1)].key;
	return new Map([
		[
			'company.json',
			JSON.stringify({
				format: 2,
				name: 'Larkmoor Bakery',
				currency: 'DKK',
				calendar: { kind: 'weeks', grouping: weeks.grouping, fiscalStart: 9, endsOn: 6, rule: 'nearest' },
				decimals: 2,
				closedThrough: through
			})
		],
		[
			'accounts.csv',
			[
				'code,name,parent,type,rollup,format',
				account('result', '', 'revenue'),
				account('sales', 'result', 'revenue'),
				account('costs', 'result', 'expense'),
				...['flour', 'wages', 'rent', 'energy', 'delivery'].map((c) => account(c, 'costs', 'expense'))
			].join('\n') + '\n'
		],
		[
			'ledger-accounts.csv',
			['code,name,account', ...LEDGER.map((l) => `${l.code},${l.code},${l.account}`)].join('\n') + '\n'
		],
		['entities.csv', 'code,name\nas,Larkmoor Bakery A/S\n'],
		[
			'departments.csv',
			'code,name,parent,entity\nbakery,Bakery,,as\novens,Ovens,bakery,as\nshop,Shop,bakery,as\n'
		],
		['dimensions.csv', 'code,name\nproduct,Product\n'],
		['dimensions/product.csv', 'code,name,parent\nbread,Bread,\ncake,Cake,\n'],
		['models.csv', 'code\norders\n'],
		['models/orders.json', JSON.stringify(MODEL)],
		['models/orders.rows.csv', `product\n${PRODUCTS.join('\n')}\n`],
		[
			'scenarios.csv',
			`code,name,kind,first,last,actuals_through,follows,origin,locked,description
budget,FY28 Budget,budget,${first},${last},${of(2027).at(-1)!.key},,,no,
forecast,FY28 Forecast,forecast,${first},${ends},${through},,,no,
`
		],
		['scenarios/budget/values.csv', values(plan)],
		['scenarios/budget/bases.csv', bases],
		['scenarios/forecast/values.csv', values(plan.slice(0, plan.findIndex((p) => p.key === ends) + 1))],
		['scenarios/forecast/bases.csv', bases],
		['users.csv', 'email,name,role,departments\nida@larkmoor.example,Ida Holm,analyst,bakery\n'],
		...periods.slice(0, closed + 1).map((p): [string, string] => [`ledger/${p.key}.csv`, entriesFile(p)])
	]);
}
