/** Kelpwick's people and open posts, from whom the plans' pay follows. */
import { ScheduleDefinition, type ScheduleRow } from '../src/lib/core/blocks/schedule/schema';
import { SCHEDULE_TEMPLATES } from '../src/lib/core/blocks/schedule/templates';
import type { Series } from '../src/lib/core/inputs/series';
import { APR24, PAYROLL } from './ledger';
import { IN_EURO } from './people';
import { seeded } from './random';
import { inEuro } from './rates';

const { form, description } = SCHEDULE_TEMPLATES.find((t) => t.code === 'people')!;
const account = (code: string, label: string) =>
	({ code, label, kind: 'account', unit: '', required: true }) as const;
const member = (code: string, label: string, dimension: string, required: boolean) =>
	({ code, label, kind: 'member', dimension, unit: '', required }) as const;
/** The account of what benefits cost. */
export const PENSION = '6020';
/** The account of commissions on sales. */
export const COMMISSIONS = '6040';

/** What tables say by what stands in a row, in place of the template's own columns. */
const FORMULAS: Record<string, string> = {
	raises:
		'if(is_blank(opening(raises)), 1, opening(raises)) * (1 + if(start < period_start(), coalesce(raise, pay_rises.general), raise))',
	tax: 'taxes.rate * capped(pay, taxes.cap)',
	benefits: 'coalesce(benefit, benefit_plans.cost) * fte + benefit_plans.share * pay'
};

/** The template for people, with groups, tax regions and benefit plans, and accounts for workshops and for all others. */
export const STAFF = ScheduleDefinition.parse({
	...form,
	code: 'staff',
	name: 'Staff',
	description,
	columns: [
		...form.columns.slice(0, 2),
		member('group', 'Group', 'staff_group', true),
		...form.columns
			.slice(2)
			.flatMap((c) =>
				c.code === 'tax_rate'
					? member('tax_region', 'Tax region', 'tax_region', true)
					: c.code === 'tax_cap'
						? []
						: c.code === 'benefit'
							? [member('benefit_plan', 'Benefits', 'benefit_plan', false), c]
							: c
			),
		account('pay_account', 'Pay goes to'),
		account('tax_account', 'Taxes go to')
	],
	lines: form.lines.map((l) => ({ ...l, formula: FORMULAS[l.code] ?? l.formula })),
	postings: [
		{ line: 'pay', account: { column: 'pay_account' } },
		{ line: 'tax', account: { column: 'tax_account' } },
		{ line: 'benefits', account: { code: PENSION } },
		{ line: 'commission', account: { code: COMMISSIONS } },
		{ line: 'fte', account: { code: '9020' } }
	]
});

const FIRST =
	'Alma Bryn Cleo Dirk Edda Fergus Gita Hollis Imre Jory Kerra Lowen Mabel Nils Olwen Perran Quill Rhea Senan Tamsin Ulla Vesna Wilf Xanthe Yoris Zelda'.split(
		' '
	);
const LAST =
	'Ashdown Birkett Carne Dunmore Elwood Farrow Gillard Hanmer Inskip Jessop Kernow Lanyon Merrick Nance Orrell Pascoe Rigby Sellick Trewin Usher Varcoe Winslow Yelland'.split(
		' '
	);
/** In Finland, where people are called otherwise. */
const ABROAD = 'Aino Korpi|Eino Salmi|Helmi Laine|Juho Niemi|Kerttu Saari|Onni Koski|Tyyne Vuori'.split('|');

/** What people cost on top, by where they work: the share of pay, and the yearly pay that counts. */
const TAXES: [region: string, rate: number, cap: number][] = [
	['coast-works', 0.155, 36_000],
	['coast-office', 0.115, 36_000],
	['finland', 0.17, 42_000]
];
const WORKS = { tax_region: 'coast-works', tax_account: '5120' };
const OFFICE = { tax_region: 'coast-office', tax_account: '6010' };
const ABROAD_TAXES = { tax_region: 'finland' };
/** Of pay that goes into pensions, outside the workshops; and what health cover costs managers from April 2027 on. */
const PENSIONS = 0.05;
const HEALTH = 45;
/** What heads of sales get of what is sold, a month after. */
const COMMISSION: Record<string, ScheduleRow['values']> = {
	'dealer-sales': { commission_rate: 0.025, commission_on: '4000', commission_after: 1 },
	'direct-web': { commission_rate: 0.012, commission_on: '4010', commission_after: 1 }
};
/** Hours that are paid in a month to those who are paid by the hour. */
const HOURS = 162.5;
/** So many in the Hull Shop are paid by the hour. */
const HOURLY = 8;
/** April 2026, at whose level pay stands in the rows; a general rise follows each April. */
const APR26 = APR24 + 24;
const RISE = 0.035;
const rises = Math.pow(1 + RISE, 2);

/** Works 60 % in the Design Office and 40 % in the Refit Yard. */
const SHARED = { id: 'K090', home: 'design-office', other: 'refit-yard', share: 0.6, annual: 36_000 };
/** Whose shares somebody has typed so that a tenth of the cost is nowhere. */
const SHORT = { id: 'K091', home: 'dealer-sales', other: 'direct-web', shares: [0.5, 0.4], annual: 30_000 };

const GROUPS: Record<string, string> = {
	'dealer-sales': 'sales',
	'direct-web': 'sales',
	'baltic-sales': 'sales',
	'harbour-club': 'club'
};

function everybody(): ScheduleRow[] {
	const random = seeded(77);
	const rows: ScheduleRow[] = [];
	let [number, name, abroad] = [1, 0, 0];
	for (const [department, { pay, people, account: to }] of Object.entries(PAYROLL)) {
		const euro = IN_EURO.has(department);
		const monthly = Math.round(pay * rises);
		// Those who stand in two departments are paid out of both.
		const elsewhere =
			(department === SHARED.home ? SHARED.share : department === SHARED.other ? 1 - SHARED.share : 0) *
			SHARED.annual;
		const all = (euro ? inEuro(monthly) : monthly) * 12 - elsewhere;
		const weights = Array.from(
			{ length: people },
			(_, i) => random.between(0.85, 1.15) + (i === 0 ? 0.5 : 0)
		);
		const sum = weights.reduce((a, b) => a + b, 0);
		let left = Math.round(all);
		for (const [i, weight] of weights.entries()) {
			const last = i === people - 1;
			const annual = last ? left : Math.round((all * weight) / sum / 60) * 60;
			left -= annual;
			const hourly = department === 'hull-shop' && i > 0 && i <= HOURLY;
			const workshop = to === '5100';
			const start = `${2009 + random.whole(0, 14)}-${String(random.whole(1, 12)).padStart(2, '0')}-01`;
			const taxes = workshop ? WORKS : OFFICE;
			rows.push({
				id: `K${String(number++).padStart(3, '0')}`,
				values: {
					name: euro ? ABROAD[abroad++] : `${FIRST[name % FIRST.length]} ${LAST[(name++ * 5) % LAST.length]}`,
					department,
					group: i === 0 ? 'manager' : workshop ? 'workshop' : (GROUPS[department] ?? 'office'),
					start,
					...(hourly ? { hourly: Math.round((annual / 12 / HOURS) * 100) / 100 } : { annual }),
					...taxes,
					...(euro ? ABROAD_TAXES : {}),
					...(i === 0 && COMMISSION[department]),
					...(workshop ? {} : { benefit_plan: i === 0 ? 'pension-health' : 'pension' }),
					leave_hours: 220,
					pay_account: to
				}
			});
		}
	}
	return rows;
}
const office = { ...OFFICE, benefit_plan: 'pension', leave_hours: 220, pay_account: '6000' };
const workshop = { ...WORKS, leave_hours: 220, pay_account: '5100' };
const shared: ScheduleRow = {
	id: SHARED.id,
	values: {
		name: 'Morwenna Tate',
		department: SHARED.home,
		group: 'office',
		start: '2019-09-01',
		annual: SHARED.annual,
		...office
	},
	shares: [SHARED.other]
};
const short: ScheduleRow = {
	id: SHORT.id,
	values: {
		name: 'Piers Hallam',
		department: SHORT.home,
		group: 'sales',
		start: '2027-04-01',
		annual: SHORT.annual,
		...office
	},
	shares: [SHORT.other]
};
const open = (
	id: string,
	name: string,
	department: string,
	start: string,
	annual: number,
	group: string
): ScheduleRow => ({
	id,
	values: {
		name,
		department,
		group,
		open_post: true,
		start,
		annual,
		...(group === 'workshop' ? workshop : office)
	}
});
const POSTS = [
	open('P01', 'Laminator', 'hull-shop', '2027-05-01', 24_600, 'workshop'),
	open('P02', 'Laminator', 'hull-shop', '2027-05-01', 24_600, 'workshop'),
	open('P03', 'Rigger', 'rigging', '2027-06-15', 25_800, 'workshop'),
	open('P04', 'Web shop editor', 'direct-web', '2027-09-01', 29_400, 'sales'),
	open('P05', 'Club host', 'harbour-club', '2027-06-01', 21_600, 'club'),
	open('P06', 'Cost accountant', 'finance-people', '2027-07-01', 38_400, 'office')
];

/** @param planned with open posts, and with who is yet to come */
export const staff = (planned: boolean): ScheduleRow[] => [
	...everybody(),
	shared,
	...(planned ? [short, ...POSTS] : [])
];

/** What is typed by month: rises, hours, shares, taxes and benefits; from one period to another. */
export function staffInputs(rows: readonly ScheduleRow[], first: number, last: number): Series[] {
	const list: Series[] = [];
	const put = (block: string, line: string, row: string, at: (period: number) => number) =>
		list.push({
			block,
			line,
			row,
			first,
			values: Float64Array.from({ length: last - first + 1 }, (_, i) => at(first + i))
		});
	for (const group of ['workshop', 'office', 'club', 'sales', 'manager'])
		put('pay_rises', 'general', group, (p) => (p > APR26 && (p - APR26) % 12 === 0 ? RISE : NaN));
	for (const [region, rate, cap] of TAXES) {
		put('taxes', 'rate', region, () => rate);
		put('taxes', 'cap', region, () => cap);
	}
	for (const plan of ['pension', 'pension-health']) put('benefit_plans', 'share', plan, () => PENSIONS);
	put('benefit_plans', 'cost', 'pension-health', (p) => (p >= APR26 + 12 ? HEALTH : NaN));
	for (const { id, values } of rows) {
		if (values.hourly !== undefined) put('staff', 'paid_hours', id, () => HOURS);
	}
	const shares: [string, string, number][] = [
		[SHARED.id, SHARED.home, SHARED.share],
		[SHARED.id, SHARED.other, 1 - SHARED.share],
		[SHORT.id, SHORT.home, SHORT.shares[0]],
		[SHORT.id, SHORT.other, SHORT.shares[1]]
	];
	for (const [id, department, share] of shares)
		if (rows.some((r) => r.id === id)) put('staff_shares', 'share', `${id}|${department}`, () => share);
	return list;
}
