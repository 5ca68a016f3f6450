/** Kelpwick's ledger entries, month by month, from a seeded generator. */
import { monthCalendar } from '../src/lib/core/calendar/calendar';
import type { Entry } from '../src/lib/server/company/subjects/entries';
import { dealers, IN_EURO } from './people';
import { keepBooks, openBooks } from './books';
import { average } from './rates';
import { cents, seeded, type Random } from './random';
import {
	cells,
	dealersIn,
	DISCOUNT,
	expectedUnits,
	growth,
	materialIndex,
	priceIndex,
	season
} from './trade';

const calendar = monthCalendar(4);
export const APR24 = 2024 * 12 + 3;
export const OCT26 = 2026 * 12 + 9;

/** Monthly cost of a department in an account: base, how much of it follows the season, entries a month, spread. */
interface Cost {
	department: string;
	ledger: string;
	base: number;
	seasonal: number;
	entries: number;
	spread: number;
	parties: string[];
	text: string;
}
const cost = (
	department: string,
	ledger: string,
	base: number,
	text: string,
	parties: string,
	entries = 1,
	seasonal = 0,
	spread = 0.06
): Cost => ({
	department,
	ledger,
	base,
	seasonal,
	entries,
	spread,
	parties: parties.split('|'),
	text
});

/** Monthly salaries (hourly pay in production goes to another account), people. */
export const PAYROLL: Record<string, { pay: number; people: number; account: '5100' | '6000' }> = {
	'hull-shop': { pay: 39800, people: 21, account: '5100' },
	rigging: { pay: 26900, people: 13, account: '5100' },
	'dealer-sales': { pay: 12300, people: 5, account: '6000' },
	'direct-web': { pay: 10200, people: 5, account: '6000' },
	'harbour-club': { pay: 11100, people: 7, account: '6000' },
	'refit-yard': { pay: 14100, people: 7, account: '5100' },
	'design-office': { pay: 13000, people: 4, account: '6000' },
	'finance-people': { pay: 15100, people: 5, account: '6000' },
	'sites-it': { pay: 7500, people: 3, account: '6000' },
	'baltic-sales': { pay: 6900, people: 3, account: '6000' },
	'baltic-yard': { pay: 7400, people: 4, account: '5100' }
};
/** Monthly depreciation by department: plant, and other kinds at Sites & IT. */
export const DEPRECIATION: [string, string, number][] = [
	['hull-shop', '6710', 7850],
	['rigging', '6710', 2900],
	['refit-yard', '6710', 4150],
	['sites-it', '6700', 5200],
	['sites-it', '6720', 2350],
	['design-office', '6730', 1480],
	['baltic-yard', '6710', 1650]
];

const HAULIERS = 'Corran Haulage|Strait Freight|Moorside Carriers';
const COSTS: Cost[] = [
	cost('hull-shop', '504010', 2600, 'Cartons and wrap', 'Bramley Packaging|Foldline', 3, 0.8),
	cost('hull-shop', '506010', 3400, 'Resin delivery', HAULIERS, 4, 0.6),
	cost('hull-shop', '506020', 1100, 'Duty on polymer', 'Customs agent Hale', 2, 0.6),
	cost('hull-shop', '520010', 1900, 'Abrasives', 'Gritline Supplies|Marston Tools', 4, 0.5),
	cost('hull-shop', '520020', 860, 'Gloves and masks', 'Safehand', 2, 0.3),
	cost('hull-shop', '511010', 2900, 'Overtime', 'Payroll', 1, 1, 0.2),
	cost('hull-shop', '522010', 980, 'Warranty parts', 'Own stores', 2, 0.2, 0.4),
	cost('rigging', '520010', 1250, 'Abrasives', 'Gritline Supplies', 3, 0.5),
	cost('rigging', '521010', 4200, 'Spars, contract work', 'Alder Rigging|Kestrel Spars', 3, 0.7),
	cost('rigging', '511010', 1500, 'Overtime', 'Payroll', 1, 1, 0.2),
	cost('rigging', '505010', 1650, 'Pallet, boats to store', HAULIERS, 6, 0.7),
	cost('rigging', '504010', 900, 'Covers and straps', 'Foldline', 2, 0.6),
	cost('dealer-sales', '505010', 7200, 'Boats to dealers', HAULIERS, 14, 1),
	// Parcels are small and many: the place where a slip of the decimal point stands out.
	cost('dealer-sales', '505020', 640, 'Parcel to dealer', 'Corran Haulage|Quickpost', 16, 0.5, 0.25),
	cost('dealer-sales', '624010', 2100, 'Dealer display', 'Signpost Print|Hallam Display', 3, 0.3),
	cost('dealer-sales', '625010', 3300, 'Visits', 'Expenses', 5, 0.4),
	cost('dealer-sales', '604010', 2600, 'Commission', 'Payroll', 1, 0.8),
	cost('dealer-sales', '621010', 3900, 'Boat show stand', 'South Coast Shows|Lakes Expo', 1, 0.5, 0.3),
	cost('direct-web', '505020', 2900, 'Parcel to customer', 'Quickpost|Corran Haulage', 22, 0.8, 0.25),
	cost('direct-web', '505010', 2100, 'Boat to customer', HAULIERS, 7, 0.9),
	cost('direct-web', '620010', 5200, 'Search advertising', 'Adline', 3, 0.6),
	cost('direct-web', '620020', 3100, 'Social advertising', 'Brightfeed', 3, 0.6),
	cost('direct-web', '620030', 1450, 'Web shop fee', 'Shopworks', 1, 0.3),
	cost('direct-web', '622010', 1200, 'Photography', 'Gull Studio', 1, 0.4),
	cost('direct-web', '532010', 1900, 'Card fees', 'Northgate Bank', 2, 0.9),
	cost('direct-web', '604010', 1100, 'Commission', 'Payroll', 1, 0.8),
	cost('harbour-club', '530010', 4200, 'Club boats', 'Own yard|Hamble Repairs', 5, 0.8),
	cost('harbour-club', '531010', 5600, 'Instructors', 'Freelance instructors', 4, 1),
	cost('harbour-club', '623010', 900, 'Open day', 'Marquee Hire Dunn', 1, 0.9, 0.3),
	cost('harbour-club', '610020', 6100, 'Club moorings', 'Harbour Commission', 1),
	cost('harbour-club', '532010', 620, 'Card fees', 'Northgate Bank', 1, 0.6),
	cost('harbour-club', '620020', 1500, 'Social advertising', 'Brightfeed', 2, 0.5),
	cost('harbour-club', '633030', 1150, 'Marine cover', 'Anchor Mutual', 1),
	cost('refit-yard', '523010', 9800, 'Timber and paint', 'Oakley Timber|Harbour Paints', 8, 0.3),
	cost('refit-yard', '521010', 5400, 'Engineers', 'Solent Engineers', 3, 0.2),
	cost('refit-yard', '520010', 1400, 'Abrasives', 'Gritline Supplies', 3, 0.2),
	cost('refit-yard', '616010', 760, 'Solvent disposal', 'Clearway Waste', 2),
	cost('design-office', '660010', 3600, 'Prototype parts', 'Form & Fibre|Own stores', 4, 0, 0.3),
	cost('design-office', '661010', 1700, 'Tank tests', 'Wolfson Basin', 1, 0, 0.5),
	cost('design-office', '662010', 1300, 'Styling', 'Lena Moss Design', 1, 0, 0.4),
	cost('design-office', '630010', 2850, 'Design licences', 'Facet Systems', 1),
	cost('design-office', '605010', 420, 'Course', 'Marine Institute', 1, 0, 0.5),
	cost('finance-people', '634010', 1350, 'Advice', 'Hart & Co', 1, 0, 0.4),
	cost('finance-people', '635010', 2100, 'Audit fee', 'Penrose Ellery', 1),
	cost('finance-people', '636010', 1900, 'Pay review', 'Calder Partners', 1, 0, 0.5),
	cost('finance-people', '640010', 540, 'Charges', 'Northgate Bank', 2),
	cost('finance-people', '606010', 1250, 'Advert', 'Jobline', 1, 0, 0.6),
	cost('finance-people', '605010', 980, 'First aid course', 'Safehand', 1, 0, 0.4),
	cost('finance-people', '641010', 450, 'Write-off', 'Various', 1, 0, 0.6),
	cost('finance-people', '603010', 5200, 'Bonus accrued', 'Payroll', 1, 0, 0.02),
	cost('finance-people', '633020', 2900, 'Liability cover', 'Anchor Mutual', 1),
	cost('finance-people', '700010', 3850, 'Yard loan', 'Northgate Bank', 1, 0, 0.01),
	cost('finance-people', '701010', 410, 'Overdraft', 'Northgate Bank', 1, -0.8, 0.2),
	cost('sites-it', '610010', 18400, 'Rent', 'Kelp Estates', 1),
	cost('sites-it', '611010', 6900, 'Rates', 'Harbour Council', 1),
	cost('sites-it', '612010', 7400, 'Electricity', 'Solway Power', 2, -0.2),
	cost('sites-it', '612020', 3600, 'Gas', 'Solway Power', 1, -0.7),
	cost('sites-it', '613010', 820, 'Water', 'Coast Water', 1),
	cost('sites-it', '614010', 2700, 'Repairs', 'Dunn Builders|Roofline', 3, 0, 0.3),
	cost('sites-it', '615010', 2200, 'Cleaning', 'Brightway', 2),
	cost('sites-it', '616010', 1300, 'Skips', 'Clearway Waste', 3),
	cost('sites-it', '617010', 1150, 'Patrol', 'Nightwatch', 1),
	cost('sites-it', '630020', 3900, 'Office licences', 'Facet Systems|Cloudpost', 3),
	cost('sites-it', '631010', 1400, 'Laptops', 'Byte & Co', 2, 0, 0.4),
	cost('sites-it', '632010', 980, 'Mobiles', 'Linkline', 1),
	cost('sites-it', '632020', 640, 'Fibre', 'Linkline', 1),
	cost('sites-it', '633010', 3700, 'Property cover', 'Anchor Mutual', 1),
	cost('sites-it', '637010', 310, 'Post', 'Quickpost', 2),
	cost('sites-it', '638010', 720, 'Supplies', 'Paperhouse', 3),
	cost('sites-it', '639010', 380, 'Journals', 'Various', 1),
	cost('sites-it', '651010', 1900, 'Fuel', 'Coast Fuels', 4, 0.3),
	cost('sites-it', '652010', 2600, 'Van leases', 'Fleetmoor', 2),
	cost('sites-it', '653010', 860, 'Van service', 'Harbour Garage', 2, 0, 0.4),
	cost('baltic-sales', '505010', 3400, 'Boats to dealers', 'Baltic Cargo|Nordline', 6, 0.9),
	cost('baltic-sales', '621010', 1500, 'Boat show stand', 'Helsinki Shows', 1, 0.4, 0.3),
	cost('baltic-sales', '625010', 1400, 'Visits', 'Expenses', 2, 0.4),
	cost('baltic-sales', '650010', 760, 'Flights', 'Expenses', 2, 0, 0.3),
	cost('baltic-sales', '620010', 1300, 'Search advertising', 'Adline', 1, 0.5),
	cost('baltic-yard', '610010', 4200, 'Rent', 'Turku Port', 1),
	cost('baltic-yard', '612010', 1600, 'Electricity', 'Aura Energy', 1, -0.4),
	cost('baltic-yard', '523010', 2400, 'Timber and paint', 'Turku Timber', 3, 0.3),
	cost('baltic-yard', '633010', 640, 'Property cover', 'Pohja Mutual', 1),
	cost('finance-people', '702010', 260, 'Exchange difference', 'Northgate Bank', 1, 0, 1.2)
];

export interface LedgerMonth {
	period: number;
	entries: Entry[];
}

/** All months from April 2024 through October 2026. */
export function ledger(): LedgerMonth[] {
	const random = seeded(20240401);
	const months: LedgerMonth[] = [];
	const books = openBooks();
	let members = 640;
	for (let period = APR24; period <= OCT26; period++) {
		const entries: Entry[] = [];
		const add = (
			department: string,
			ledgerAccount: string,
			amount: number,
			party: string,
			description: string,
			tags: Entry['tags'] = {},
			day = random.whole(1, 28)
		) =>
			entries.push({
				period,
				date: `${calendar.key(period)}-${String(day).padStart(2, '0')}`,
				ledgerAccount,
				department,
				amount: cents(amount),
				document: '',
				party,
				description,
				tags
			});
		sales(period, random, add);
		members = club(period, random, members, add);
		refit(period, random, add);
		payroll(period, random, add);
		for (const [department, account, amount] of DEPRECIATION)
			add(department, `${account}10`, amount, 'Asset register', 'Depreciation', {}, 28);
		for (const c of COSTS) spend(c, period, random, add);
		if (period === OCT26) october(entries, add);
		for (const e of entries)
			if (IN_EURO.has(e.department) && !e.ledgerAccount.startsWith('9'))
				e.amount = cents(e.amount / average(period));
		const [abroad, home] = [true, false].map((euro) =>
			entries.filter((e) => IN_EURO.has(e.department) === euro)
		);
		const booked = [
			...keepBooks(books, books.ltd, period, home),
			...keepBooks(books, books.oy, period, abroad)
		];
		booked.sort((a, b) => a.date.localeCompare(b.date) || a.document.localeCompare(b.document));
		months.push({ period, entries: booked });
	}
	return months;
}

type Add = (
	department: string,
	ledger: string,
	amount: number,
	party: string,
	text: string,
	tags?: Entry['tags'],
	day?: number
) => unknown;

const SOLD_AS: Record<string, string[]> = {
	dinghies: ['400010', '400020'],
	kayaks: ['401010'],
	boards: ['402010'],
	accessories: ['403010', '403020', '403030']
};
const MADE_OF: Record<string, string[]> = {
	dinghies: ['500010', '500020', '500030'],
	kayaks: ['501010', '501020'],
	boards: ['502010'],
	accessories: ['503010']
};

function sales(period: number, random: Random, add: Add) {
	const materials = new Map<string, number>();
	const delivery = new Map<string, number>();
	for (const cell of cells) {
		const { item, channel, region } = cell;
		// Planted: kayaks on the Lakes at dealers, down from August 2026.
		const slump =
			item.family === 'kayaks' && channel === 'dealer' && region === 'lakes' && period >= 2026 * 12 + 7
				? 0.45
				: 1;
		const units = Math.round(expectedUnits(cell, period) * slump * random.around(0.35));
		if (units <= 0) continue;
		const department =
			region === 'baltic' ? 'baltic-sales' : channel === 'dealer' ? 'dealer-sales' : 'direct-web';
		const tags: Entry['tags'] = { product: item.code, channel, region };
		const customer = channel === 'dealer' ? random.pick(dealersIn(region)) : null;
		if (customer) tags.customer = customer;
		const price = item.price * priceIndex(period) * (1 - DISCOUNT[channel]) * random.around(0.03);
		const party = customer
			? dealers.find(([code]) => code === customer)![1]
			: channel === 'web'
				? 'Web shop'
				: 'Direct sales';
		const account = SOLD_AS[item.family];
		add(
			department,
			account[item.code.length % account.length],
			-units * price,
			party,
			`${units} × ${item.name}`,
			tags
		);
		add(department, '900010', units, party, item.name, tags);
		const material = MADE_OF[item.family];
		const key = `${department} ${material[(item.code.length + units) % material.length]}`;
		materials.set(
			key,
			(materials.get(key) ?? 0) +
				units * item.price * item.material * materialIndex(period) * random.around(0.04)
		);
		if (channel !== 'dealer')
			delivery.set(department, (delivery.get(department) ?? 0) + units * item.price * 0.012);
	}
	for (const [key, amount] of materials) {
		const [department, account] = key.split(' ');
		add(department, account, amount, 'Own stores', 'Materials used', {}, 28);
	}
	for (const [department, amount] of delivery)
		add(department, '404010', -amount, 'Customers', 'Delivery charged', {}, 28);
}

function club(period: number, random: Random, members: number, add: Add): number {
	const joiners = Math.round(34 * season(period) * random.around(0.3));
	const now = Math.round(members * 0.962 + joiners);
	add('harbour-club', '901010', now, 'Club register', 'Members', {}, 28);
	const fee = 52 * priceIndex(period);
	for (const part of [0.6, 0.25, 0.15])
		add('harbour-club', '410010', -now * fee * part, 'Members', 'Memberships');
	add(
		'harbour-club',
		'411010',
		-now * 9.2 * season(period) * random.around(0.1),
		'Members and guests',
		'Boat rental'
	);
	add(
		'harbour-club',
		'411020',
		-now * 5.1 * season(period) * random.around(0.1),
		'Members and guests',
		'Board rental'
	);
	add(
		'harbour-club',
		'412010',
		-now * 6.4 * season(period) * random.around(0.15),
		'Course bookings',
		'Courses'
	);
	add('harbour-club', '413010', -7400 * priceIndex(period), 'Berth holders', 'Berths');
	return now;
}

function refit(period: number, random: Random, add: Add) {
	// Yards are busiest in winter.
	const busy = (1.7 - 0.5 * season(period)) * growth(period);
	for (const [department, size] of [
		['refit-yard', 1],
		['baltic-yard', 0.3]
	] as const) {
		for (let job = 0; job < (size === 1 ? 5 : 2); job++)
			add(
				department,
				'420010',
				-10200 * size * busy * random.around(0.3) * (size === 1 ? 1 : 2.2),
				'Refit customers',
				'Labour'
			);
		add(department, '421010', -17400 * size * busy * random.around(0.15), 'Refit customers', 'Materials');
		add(
			department,
			'422010',
			-(season(period) < 0.95 ? 5200 : 900) * size,
			'Refit customers',
			'Winter storage'
		);
	}
}

function payroll(period: number, random: Random, add: Add) {
	const rise = Math.pow(1.035, Math.floor((period - APR24) / 12));
	for (const [department, { pay, people, account }] of Object.entries(PAYROLL)) {
		const amount = pay * rise * random.around(0.02);
		if (account === '6000') {
			add(department, '600010', amount * 0.92, 'Payroll', 'Salaries', {}, 25);
			add(department, '600020', amount * 0.08, 'Payroll', 'Holiday pay', {}, 25);
			add(department, '601010', amount * 0.115, 'Payroll', 'Contributions', {}, 25);
			add(department, '602010', amount * 0.05, 'Payroll', 'Pension', {}, 25);
		} else {
			add(department, '510010', amount, 'Payroll', 'Wages', {}, 25);
			add(department, '512010', amount * 0.115, 'Payroll', 'Contributions', {}, 25);
			add(department, '512020', amount * 0.04, 'Payroll', 'Pension', {}, 25);
		}
		add(department, '902010', people, 'Payroll', 'Full-time equivalents', {}, 25);
	}
}

function spend(c: Cost, period: number, random: Random, add: Add) {
	const inflation = Math.pow(1.028, (period - APR24) / 12);
	const total =
		c.base * inflation * Math.max(0.1, 1 + c.seasonal * (season(period) - 1)) * random.around(c.spread);
	const weights = Array.from({ length: c.entries }, () => random.between(0.6, 1.4));
	const sum = weights.reduce((a, b) => a + b, 0);
	for (const w of weights) add(c.department, c.ledger, (total * w) / sum, random.pick(c.parties), c.text);
}

/** What October 2026 has that other months do not. */
function october(entries: Entry[], add: Add) {
	// Planted: an invoice of 24.90 keyed a thousand times too large.
	const slip = entries.find(
		(e) => e.department === 'dealer-sales' && e.ledgerAccount === '505020' && e.party === 'Corran Haulage'
	)!;
	slip.amount = 24900;
	slip.date = '2026-10-14';
	slip.document = '88213';
	// Planted: a ledger account that is new this month.
	add('direct-web', '620040', 1840, 'Tidewave Media', 'Video advertising');
	add('direct-web', '620040', 960, 'Tidewave Media', 'Video advertising');
}
export const NEW_ACCOUNT = { code: '620040', name: 'Video advertising' };
