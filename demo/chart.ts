/** Kelpwick's planning accounts, and the ledger accounts folded into them. */
import type { Account, CashFlow, LedgerAccount } from '../src/lib/core/company/schema';

type Type = Account['type'];

/** code | name | parent | type; groups first, then what they hold. */
const GROUPS: [string, string, string | null, Type][] = [
	['profit', 'Profit before tax', null, 'revenue'],
	['operating', 'Operating profit', 'profit', 'revenue'],
	['gross', 'Gross profit', 'operating', 'revenue'],
	['revenue', 'Revenue', 'gross', 'revenue'],
	['boats', 'Boat sales', 'revenue', 'revenue'],
	['club', 'Harbour Club', 'revenue', 'revenue'],
	['refit', 'Refit work', 'revenue', 'revenue'],
	['direct', 'Direct cost', 'gross', 'expense'],
	['materials', 'Materials', 'direct', 'expense'],
	['production', 'Production and service', 'direct', 'expense'],
	['running', 'Running cost', 'operating', 'expense'],
	['pay', 'Pay and on-costs', 'running', 'expense'],
	['premises', 'Premises', 'running', 'expense'],
	['selling', 'Selling', 'running', 'expense'],
	['office', 'Office and services', 'running', 'expense'],
	['vehicles', 'Travel and vehicles', 'running', 'expense'],
	['development', 'Development', 'running', 'expense'],
	['depreciation', 'Depreciation', 'running', 'expense'],
	['finance', 'Finance cost', 'profit', 'expense']
];

/** Planning accounts by group; after the name the ledger accounts folded into it, when more than one. */
const LEAVES: Record<string, string[]> = {
	boats: [
		'4000 Dinghies: Dinghies, stock|Dinghies, built to order',
		'4010 Kayaks: Kayaks|Kayaks, seconds',
		'4020 Paddleboards',
		'4030 Accessories: Sails and spars|Paddles and buoyancy aids|Trolleys and covers',
		'4040 Delivery charged'
	],
	club: [
		'4100 Club memberships',
		'4110 Club rentals: Boat rental|Board rental',
		'4120 Club courses',
		'4130 Berths and storage'
	],
	refit: ['4200 Refit labour charged', '4210 Refit materials charged', '4220 Winter storage'],
	materials: [
		'5000 Dinghy materials: Resin and cloth|Dinghy fittings|Sails bought in',
		'5010 Kayak materials: Polymer|Kayak fittings',
		'5020 Paddleboard materials',
		'5030 Accessory purchases',
		'5040 Packaging',
		'5050 Freight out: Freight out, pallets|Freight out, parcels',
		'5060 Freight in and duty: Freight in|Import duty'
	],
	production: [
		'5100 Production pay',
		'5110 Production overtime',
		'5120 Production on-costs: Production contributions|Production pension',
		'5200 Workshop consumables: Abrasives|Gloves and masks',
		'5210 Subcontractors',
		'5220 Warranty work',
		'5230 Refit materials used',
		'5300 Club boat upkeep',
		'5310 Instructors',
		'5320 Card fees'
	],
	pay: [
		'6000 Salaries: Salaries|Holiday pay',
		'6010 Social contributions',
		'6020 Pension',
		'6030 Bonus',
		'6040 Sales commission',
		'6050 Training',
		'6060 Recruitment',
		'6070 Agency staff'
	],
	premises: [
		'6100 Moorings and rent: Rent|Moorings',
		'6110 Business rates',
		'6120 Energy: Electricity|Gas',
		'6130 Water',
		'6140 Building repairs',
		'6150 Cleaning',
		'6160 Waste removal',
		'6170 Security'
	],
	selling: [
		'6200 Online marketing: Search advertising|Social advertising|Web shop fees',
		'6210 Boat shows',
		'6220 Print and photography',
		'6230 Open days',
		'6240 Dealer support',
		'6250 Travel to dealers'
	],
	office: [
		'6300 Software: Design software|Office software',
		'6310 Small IT equipment',
		'6320 Phones and data: Phones|Internet',
		'6330 Insurance: Property insurance|Liability insurance|Marine insurance',
		'6340 Legal',
		'6350 Audit and accounts',
		'6360 Consultancy',
		'6370 Postage',
		'6380 Office supplies',
		'6390 Subscriptions',
		'6400 Bank charges',
		'6410 Bad debts'
	],
	vehicles: ['6500 Other travel', '6510 Fuel', '6520 Vehicle leases', '6530 Vehicle repairs'],
	development: ['6600 Prototypes', '6610 Testing and certification', '6620 Design fees'],
	depreciation: [
		'6700 Depreciation of buildings',
		'6710 Depreciation of moulds and plant',
		'6720 Depreciation of vehicles',
		'6730 Amortisation of software',
		'6740 Loss on disposals'
	],
	finance: ['7000 Loan interest', '7010 Overdraft interest', '7020 Exchange differences']
};

const BALANCE_GROUPS: [string, string, string | null, Type][] = [
	['net-assets', 'Net assets', null, 'asset'],
	['assets', 'Assets', 'net-assets', 'asset'],
	['liabilities', 'Liabilities', 'net-assets', 'liability']
];
const BALANCE: Record<string, string[]> = {
	assets: [
		'1000 Cash: Northgate current|Northgate wages|Northgate reserve|Harbour branch|Card clearing|Web shop clearing|Baltic current|Petty cash',
		'1100 Trade receivables: Dealers|Other customers',
		'1110 Other receivables',
		'1200 Raw materials: Resin stock|Fittings stock',
		'1210 Finished boats',
		'1300 Prepayments',
		'1400 Property',
		'1410 Moulds and plant: Moulds|Plant',
		'1420 Vehicles',
		'1430 Software licences',
		'1490 Accumulated depreciation'
	],
	liabilities: [
		'2000 Trade payables: Suppliers|Goods received, not invoiced',
		'2010 Accruals',
		'2020 Payroll liabilities',
		'2030 Value added tax: Output tax|Input tax',
		'2040 Memberships in advance',
		'2100 Loans: Yard loan|Travel lift loan',
		'2110 Overdraft'
	]
};

/** Fixed at the start of the history, apart from assets and liabilities. */
const EQUITY: [string, string][] = [
	['3000', 'Share capital'],
	['3100', 'Retained earnings']
];

const STATISTICS: [string, string, Account['rollup']][] = [
	['9000', 'Units sold', 'sum'],
	['9010', 'Club members', 'last'],
	['9020', 'Staff, full-time equivalent', 'average']
];

/** Where accounts stand in the cash flow, where their headings do not tell. */
const CASH_FLOW: Record<string, CashFlow> = {
	depreciation: 'none',
	'6410': 'none',
	'1000': 'cash',
	'1400': 'investing',
	'1410': 'investing',
	'1420': 'investing',
	'1430': 'investing',
	'1490': 'none',
	'2100': 'financing',
	'2110': 'financing',
	'3200': 'none'
};

const account = (
	code: string,
	name: string,
	parent: string | null,
	type: Type,
	rollup: Account['rollup'] = 'sum',
	format: Account['format'] = 'money'
): Account => ({ code, name, parent, type, rollup, format, cashFlow: CASH_FLOW[code] ?? null });

export function chart(): { accounts: Account[]; ledger: LedgerAccount[] } {
	const accounts: Account[] = [];
	const ledger: LedgerAccount[] = [];
	const addLeaves = (
		lists: Record<string, string[]>,
		parent: string,
		type: Type,
		rollup: Account['rollup']
	) => {
		for (const entry of lists[parent] ?? []) {
			const [, code, name, folded] = /^(\d+) ([^:]+)(?:: (.+))?$/.exec(entry)!;
			accounts.push(account(code, name, parent, type, rollup));
			(folded?.split('|') ?? [name]).forEach((n, i) =>
				ledger.push({ code: `${code}${(i + 1) * 10}`, name: n, account: code })
			);
		}
	};
	// Parts stand before what follows their group, so that the list reads like the statement.
	for (const [code, name, parent, type] of GROUPS) {
		accounts.push(account(code, name, parent, type));
		addLeaves(LEAVES, code, type, 'sum');
	}
	for (const [code, name, parent, type] of BALANCE_GROUPS) {
		accounts.push(account(code, name, parent, type, 'last'));
		addLeaves(BALANCE, code, type, 'last');
	}
	accounts.push(account('equity', 'Equity', null, 'equity', 'last'));
	for (const [code, name] of EQUITY) {
		accounts.push(account(code, name, 'equity', 'equity', 'last'));
		ledger.push({ code: `${code}10`, name, account: code });
	}
	accounts.push({
		...account('3200', 'Translation difference', 'equity', 'equity', 'last'),
		translation: true
	});
	accounts.push(account('statistics', 'Statistics', null, 'statistical', 'sum', 'number'));
	for (const [code, name, rollup] of STATISTICS) {
		accounts.push(account(code, name, 'statistics', 'statistical', rollup, 'number'));
		ledger.push({ code: `${code}10`, name, account: code });
	}
	return { accounts, ledger };
}
