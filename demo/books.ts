/** Kelpwick's books: documents that balance, and the receivables, stock, bank and tax that stand behind what is earned and spent. */
import { monthCalendar } from '../src/lib/core/calendar/calendar';
import type { Entry } from '../src/lib/server/company/subjects/entries';
import { assetsHeld } from './assets';
import { dealers } from './people';
import { cents } from './random';
import { average } from './rates';
import { season } from './trade';

const calendar = monthCalendar(4);
/** Month of the year, 1 to 12. */
const month = (period: number) => (period % 12) + 1;

/** A line of a document: debits positive, in the currency of the books. */
type Line = [ledger: string, amount: number];

interface Document {
	day: number;
	party: string;
	text: string;
	/** What was earned or spent, statistics among it; its date becomes the document's. */
	flows: Entry[];
	/** The other side of it, and what moves between balances. */
	lines: Line[];
	/** Kept where the document came with one. */
	number?: string;
}

/** The books of a legal entity, from month to month. */
export interface Books {
	/** Who keeps them: balances stand in this department. */
	department: string;
	/** Value added tax, a share. */
	tax: number;
	/** Where customers pay into and suppliers are paid from. */
	bank: string;
	/** What stands in each ledger account. */
	balances: Map<string, number>;
	/** Invoices by customer that wait to be paid, with the month in which they will be. */
	unpaid: { party: string; ledger: string; amount: number; due: number }[];
	/** Invoices of suppliers that are paid in the month after. */
	payable: number;
	/** Goods that came without their invoice, with what they were bought as. */
	uninvoiced: number;
	/** Taxes and contributions on pay, due in the month after. */
	withheld: number;
}
/** The books of both companies, whose documents are numbered together. */
export interface AllBooks {
	ltd: Books;
	oy: Books;
	/** The number of the last document. */
	number: number;
}

const books = (department: string, tax: number, bank: string): Books => ({
	department,
	tax,
	bank,
	balances: new Map(),
	unpaid: [],
	payable: 0,
	uninvoiced: 0,
	withheld: 0
});

export const openBooks = (): AllBooks => ({
	ltd: books('finance-people', 0.2, '100010'),
	oy: books('baltic-yard', 0.255, '100070'),
	number: 59999
});

/** What stood in the books when they begin, beside assets, in their own currency; earnings of the years before make it balance. */
const OPENING: Record<string, Line[]> = {
	'finance-people': [
		['100010', 264000],
		['100020', 12000],
		['100030', 260000],
		['100050', 18500],
		['100080', 900],
		['110010', 412000],
		['110020', 61000],
		['120010', 96000],
		['120020', 74000],
		['121010', 388000],
		['130010', 42000],
		['200010', -298000],
		['201010', -84000],
		['202010', -61000],
		['203010', -92000],
		['204010', -67000],
		['210010', -690000],
		['210020', -145000],
		['300010', -500000]
	],
	'baltic-yard': [
		['100070', 64000],
		['110010', 38000],
		['120010', 45000],
		['121010', 34000],
		['200010', -22000],
		['202010', -6000],
		['300010', -100000]
	]
};

function opening(b: Books, period: number): Document {
	const abroad = b.department === 'baltic-yard';
	const lines = [
		...OPENING[b.department],
		...assetsBefore(period, abroad ? INVESTED_ABROAD : INVESTED, abroad)
	];
	const at = (ledger: string) => lines.find(([l]) => l === ledger)?.[1] ?? 0;
	b.payable = -at('200010');
	b.withheld = -at('202010');
	b.unpaid.push(
		{ party: 'Dealers', ledger: '110010', amount: cents(at('110010') * 0.7), due: period },
		{ party: 'Dealers', ledger: '110010', amount: cents(at('110010') * 0.3), due: period + 1 }
	);
	if (at('110020'))
		b.unpaid.push({ party: 'Customers', ledger: '110020', amount: at('110020'), due: period });
	const earned = -lines.reduce((s, [, a]) => s + a, 0);
	return {
		day: 1,
		party: '',
		text: 'Opening balance',
		flows: [],
		lines: [...lines, ['310010', earned]]
	};
}

/** What the list of assets says, less what is still to be bought. */
function assetsBefore(period: number, invested: typeof INVESTED, abroad: boolean): Line[] {
	const held = new Map(assetsHeld(period, abroad));
	for (const [ledger, amount] of Object.values(invested)) held.set(ledger, held.get(ledger)! - amount);
	return [...held];
}

/** Spent without value added tax: insurance, duty, business rates, training, finance, people's own expenses and fees. */
const UNTAXED = /^(506020|531|532|60[0-9]|611|625|633|64|65001|70)/;
const DEALERS = new Set(dealers.map(([, name]) => name));
/** Dealers that take two months to pay. */
const SLOW = new Set(dealers.filter((_, i) => i % 4 === 3).map(([, name]) => name));

/** How what is earned or spent is settled, and what goes onto one document with it. */
interface Way {
	/** Entries with the same key share a document. */
	key: string;
	taxed: boolean;
	settle: (b: Books, period: number, amount: number) => Line[];
}

/** An amount that goes to one account, with its sign turned. */
const against =
	(ledger: string) =>
	(_b: Books, _period: number, amount: number): Line[] => [[ledger, -amount]];

const invoiced =
	(party: string, ledger: string, months: number) =>
	(b: Books, period: number, amount: number): Line[] => {
		b.unpaid.push({ party, ledger, amount: -amount, due: period + months });
		return [[ledger, -amount]];
	};

const bought = (b: Books, _period: number, amount: number): Line[] => {
	b.payable += amount;
	return [['200010', -amount]];
};

/** What people get of what their pay costs; the rest is tax and contributions, theirs and the employer's, due a month later. */
const NET = 0.62;

/** What comes out of stock. */
const STORES = /^Own (stores|yard)$/;
/** The stock that a cost is taken from. */
const stockOf = (ledger: string) =>
	/^(502|503|530)/.test(ledger) ? '121010' : /^(500010|501010)/.test(ledger) ? '120010' : '120020';

function wayOf(e: Entry): Way {
	const { ledgerAccount: ledger, party, department } = e;
	const week = Math.ceil(Number(e.date.slice(8)) / 7);
	const plain = (key: string, to: string): Way => ({ key, taxed: false, settle: against(to) });
	if (ledger.startsWith('9')) return { key: `${party} ${ledger}`, taxed: false, settle: () => [] };
	if (ledger.startsWith('410')) return plain('members', '204010');
	if (ledger.startsWith('4')) {
		const taxed = true;
		if (DEALERS.has(party))
			return {
				key: `${party} ${week < 3}`,
				taxed,
				settle: invoiced(party, '110010', SLOW.has(party) ? 2 : 1)
			};
		if (party === 'Web shop') return { key: `web ${week < 3}`, taxed, settle: against('100060') };
		if (/^Refit|^Berth/.test(party)) {
			const to = department === 'baltic-yard' ? '110010' : '110020';
			return { key: `${party} ${department}`, taxed, settle: invoiced(party, to, 1) };
		}
		return { key: `takings ${party} ${week < 3}`, taxed, settle: against('100050') };
	}
	if (party === 'Asset register') return plain(`depreciation ${department}`, '149010');
	if (party === 'Own stores' || party === 'Own yard')
		return plain(`stores ${stockOf(ledger)}`, stockOf(ledger));
	if (ledger.startsWith('603')) return plain('bonus', '201010');
	if (ledger.startsWith('635')) return plain('audit', '201010');
	if (ledger.startsWith('633') && department !== 'baltic-yard') return plain('insurance', '130010');
	if (ledger.startsWith('641'))
		return {
			key: 'written off',
			taxed: false,
			settle: (b, _period, amount) => {
				b.unpaid.find((u) => u.ledger === '110010' && u.amount > amount)!.amount -= amount;
				return [['110010', -amount]];
			}
		};
	if (ledger.startsWith('532')) return plain('card fees', '100050');
	if (/^(64|70)/.test(ledger)) return plain(`bank ${ledger}`, '100010');
	if (party === 'Payroll')
		return {
			key: 'pay',
			taxed: false,
			settle: (b, _period, amount) => {
				const net = cents(amount * NET);
				b.withheld += amount - net;
				return [
					[b.department === 'finance-people' ? '100020' : b.bank, -net],
					['202010', -cents(amount - net)]
				];
			}
		};
	return {
		key: `${party} ${UNTAXED.test(ledger)}`,
		taxed: !UNTAXED.test(ledger),
		settle: bought
	};
}

/** What a month earned and spent, on documents with their other side. */
function documentsOf(b: Books, period: number, flows: readonly Entry[]): Document[] {
	const groups = new Map<string, { way: Way; flows: Entry[]; number?: string }>();
	let last: Entry[] = [];
	for (const e of flows) {
		// Units stand on the invoice of what was sold.
		if (e.ledgerAccount === '900010') {
			last.push(e);
			continue;
		}
		const way = wayOf(e);
		const key = e.document ? e.document : way.key;
		let group = groups.get(key);
		if (!group) groups.set(key, (group = { way, flows: [], number: e.document || undefined }));
		group.flows.push(e);
		last = group.flows;
	}
	return [...groups.values()].map(({ way, flows, number }) => {
		const money = flows.filter((e) => !e.ledgerAccount.startsWith('9'));
		const net = cents(money.reduce((s, e) => s + e.amount, 0));
		const tax = way.taxed ? cents(net * b.tax) : 0;
		const lines: Line[] = [];
		if (tax) lines.push([net < 0 ? '203010' : '203020', tax]);
		if (money.length) lines.push(...way.settle(b, period, cents(net + tax)));
		const day = Number(flows[0].date.slice(8));
		return { day, party: flows[0].party, text: flows[0].description, flows, lines, number };
	});
}

/** Bought, borrowed and built: the year's few large things. @param amount without tax */
const INVESTED: Record<string, [ledger: string, amount: number, party: string, text: string]> = {
	'2024-09': ['141010', 64000, 'Form & Fibre', 'Mould, Eider 12'],
	'2024-11': ['142010', 31000, 'Harbour Garage', 'Delivery van'],
	'2025-02': ['141020', 86000, 'Solent Engineers', 'Oven, hull shop'],
	'2025-06': ['143010', 24000, 'Facet Systems', 'Design software'],
	'2025-09': ['141010', 71000, 'Form & Fibre', 'Mould, dinghy deck'],
	'2026-01': ['141020', 58000, 'Solent Engineers', 'Dust extraction'],
	'2026-03': ['142010', 34000, 'Harbour Garage', 'Delivery van']
};
const INVESTED_ABROAD: typeof INVESTED = {
	'2025-05': ['141020', 26000, 'Turku Port', 'Boat lift']
};
/** Paid each September: to the owners in pounds, and in euro by the company in Finland to the one that owns it. */
const DIVIDEND = 280000;
const DIVIDEND_ABROAD = 300000;
/** What the current account begins a month with. */
const STARTS_WITH = 240000;
/** Paid back each month: the yard loan, and that of the travel lift. */
const REPAID: Line[] = [
	['210010', 5750],
	['210020', 2400]
];

/** What moves between balances in a month, at what stood there when it began. */
function movements(b: Books, period: number, flows: readonly Entry[]): Document[] {
	const at = (ledger: string) => cents(b.balances.get(ledger) ?? 0);
	const sum = (match: RegExp) =>
		cents(flows.filter((e) => match.test(e.ledgerAccount)).reduce((s, e) => s + e.amount, 0));
	const list: Document[] = [];
	const move = (day: number, party: string, text: string, ...lines: Line[]) => {
		const own = lines.filter(([, amount]) => cents(amount) !== 0);
		if (own.length) list.push({ day, party, text, flows: [], lines: own });
	};
	const home = b.department === 'finance-people';
	// Customers pay.
	const paying = new Map<string, Books['unpaid']>();
	for (const u of b.unpaid.filter((u) => u.due === period))
		paying.set(`${u.party} ${u.ledger}`, [...(paying.get(`${u.party} ${u.ledger}`) ?? []), u]);
	b.unpaid = b.unpaid.filter((u) => u.due !== period);
	[...paying.values()].forEach((invoices, i) => {
		const [{ party, ledger }] = invoices;
		const paid = cents(invoices.reduce((s, u) => s + u.amount, 0));
		const into = home && ledger === '110020' ? '100040' : b.bank;
		move(8 + (i % 14), party, 'Received', [into, paid], [ledger, -paid]);
	});
	// Takings by card and from the web shop reach the bank; the branch keeps a little.
	for (const clearing of ['100050', '100060'])
		move(3, 'Northgate Bank', 'Takings', [b.bank, at(clearing)], [clearing, -at(clearing)]);
	const over = Math.max(0, at('100040') - 15000);
	move(4, 'Northgate Bank', 'Between accounts', ['100010', over], ['100040', -over]);
	// Suppliers are paid for what they invoiced the month before, tax and contributions likewise.
	move(20, 'Suppliers', 'Payment run', ['200010', b.payable], [b.bank, -b.payable]);
	b.payable = 0;
	move(22, 'Tax office', 'Tax and contributions on pay', ['202010', b.withheld], [b.bank, -b.withheld]);
	b.withheld = 0;
	// Stock is filled for the month that follows; its invoice comes then.
	const invoice = b.uninvoiced;
	const tax = cents(invoice * b.tax);
	move(
		6,
		'Material suppliers',
		'Invoice',
		['200020', invoice],
		['203020', tax],
		['200010', -cents(invoice + tax)]
	);
	b.payable += cents(invoice + tax);
	b.uninvoiced = 0;
	const next = season(period + 1) / season(period);
	const needed = new Map<string, number>();
	for (const e of flows) {
		if (!STORES.test(e.party)) continue;
		const stock = stockOf(e.ledgerAccount);
		const again = e.amount * (e.description === 'Materials used' ? next : 1);
		needed.set(stock, (needed.get(stock) ?? 0) + again);
	}
	for (const [stock, amount] of needed) {
		const filled = cents(amount);
		b.uninvoiced = cents(b.uninvoiced + filled);
		move(27, 'Material suppliers', 'Goods received', [stock, filled], ['200020', -filled]);
	}
	// Value added tax, for the quarter before.
	if (month(period) % 3 === 1)
		move(
			7,
			'Tax office',
			'Value added tax',
			['203010', -at('203010')],
			['203020', -at('203020')],
			[b.bank, cents(at('203010') + at('203020'))]
		);
	const invested = (home ? INVESTED : INVESTED_ABROAD)[calendar.key(period)];
	if (invested) {
		const [ledger, amount, party, text] = invested;
		const tax = cents(amount * b.tax);
		move(12, party, text, [ledger, amount], ['203020', tax], ['200010', -cents(amount + tax)]);
		b.payable += cents(amount + tax);
	}
	if (!home) {
		if (month(period) === 9)
			move(16, 'Kelpwick Boatworks Ltd', 'Dividend', ['310010', DIVIDEND_ABROAD], [b.bank, -DIVIDEND_ABROAD]);
		return list;
	}
	// Members pay a quarter ahead, insurance a year, the audit when it is done, and bonus in June.
	if (month(period) % 3 === 1) {
		const ahead = cents(-4 * sum(/^410/) + at('204010'));
		move(5, 'Members', 'Subscriptions for the quarter', ['100010', ahead], ['204010', -ahead]);
	}
	if (month(period) === 9) {
		const year = cents(13 * sum(/^633/) - at('130010'));
		move(1, 'Anchor Mutual', 'Insurance for the year', ['130010', year], ['200010', -year]);
		b.payable += year;
	}
	if (month(period) === 7) {
		const fee = cents(12 * sum(/^635/));
		const tax = cents(fee * b.tax);
		move(9, 'Penrose Ellery', 'Audit', ['201010', fee], ['203020', tax], ['200010', -cents(fee + tax)]);
		b.payable += cents(fee + tax);
	}
	if (month(period) === 6) {
		const bonus = cents(12 * sum(/^603/));
		move(25, 'Payroll', 'Bonus of the year', ['201010', bonus], ['100010', -bonus]);
	}
	if (month(period) === 9) {
		const received = cents(DIVIDEND_ABROAD * average(period));
		move(17, 'Kelpwick Baltic Oy', 'Dividend', ['100010', received], ['310010', -received]);
		move(18, 'Owners', 'Dividend', ['310010', DIVIDEND], ['100010', -DIVIDEND]);
	}
	const back = REPAID.filter(([ledger, amount]) => -at(ledger) >= amount);
	move(15, 'Northgate Bank', 'Loans repaid', ...back, ['100010', -back.reduce((s, [, a]) => s + a, 0)]);
	// The reserve, then the overdraft, even out the current account; the one that wages are paid from is filled up.
	const missing = cents(STARTS_WITH - at('100010'));
	const reserve = missing > 0 ? Math.min(missing, at('100030')) : 0;
	const owed = missing < 0 ? Math.min(-missing, -at('211010')) : 0;
	const drawn = cents(missing > 0 ? missing - reserve : -owed);
	const saved = cents(missing < 0 ? -missing - owed : -reserve);
	move(2, 'Northgate Bank', 'Between accounts', ['100010', missing], ['100030', saved], ['211010', -drawn]);
	const short = cents(140000 - at('100020'));
	move(24, 'Northgate Bank', 'Between accounts', ['100020', short], ['100010', -short]);
	return list;
}

/**
 * A month's entries: what was earned and spent, on documents with their other side, and what moved between balances.
 * Every document balances. @param flows in the currency of the books; date and document are set
 */
export function keepBooks(books: AllBooks, b: Books, period: number, flows: readonly Entry[]): Entry[] {
	const list: Document[] = [];
	if (!b.balances.size) {
		list.push(opening(b, period));
		for (const [ledger, amount] of list[0].lines) b.balances.set(ledger, amount);
	}
	list.push(...movements(b, period, flows), ...documentsOf(b, period, flows));
	list.sort((x, y) => x.day - y.day);
	const entries: Entry[] = [];
	for (const { day, party, text, flows, lines, number } of list) {
		const document = number ?? String(++books.number);
		const date = `${calendar.key(period)}-${String(day).padStart(2, '0')}`;
		for (const e of flows) entries.push(Object.assign(e, { date, document }));
		for (const [ledgerAccount, amount] of lines)
			entries.push({
				period,
				date,
				ledgerAccount,
				department: b.department,
				amount: cents(amount),
				document,
				party,
				description: text,
				tags: {}
			});
		if (text === 'Opening balance') continue;
		for (const [ledger, amount] of lines)
			b.balances.set(ledger, cents((b.balances.get(ledger) ?? 0) + amount));
	}
	return entries;
}
