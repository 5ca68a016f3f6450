/** One request and more of every route of the API, with who gets through and what they are answered. */

export const WHO = {
	analyst: 'maren.holt@kelpwick.example',
	reviewer: 'oliver.strand@kelpwick.example',
	contributor: 'tom.aldous@kelpwick.example',
	viewer: 'beth.crane@kelpwick.example'
} as const;
export type Role = keyof typeof WHO;
export const ROLES = Object.keys(WHO) as Role[];
export const ALL: Role[] = ROLES;
export const COMPANY: Role[] = ['analyst', 'reviewer', 'viewer'];

export interface Request {
	method: 'GET' | 'POST' | 'PATCH' | 'DELETE';
	path: string;
	body?: unknown;
	file?: boolean;
	/** Who gets through; all others are refused with 403. */
	open: Role[];
	/** What those who get through are answered. */
	status: number;
}
export const S = 'scenario=fy28-budget';
export const W = 'from=2027-04&to=2028-03';
const own = { scenario: 'fy28-budget', department: 'dealer-sales' };
const other = { scenario: 'fy28-budget', department: 'rigging' };
/** A cell of an account that is not there. */
const typedIn = (row: string) => ({
	block: 'accounts',
	line: 'none',
	row,
	period: '2027-04',
	before: null,
	value: 1
});

const place = { block: 'accounts', line: '6240', row: 'dealer-sales', period: '2027-04' };
const ACCOUNT = `block=accounts&line=6240&period=2027-04`;

const badRule = {
	code: 'x',
	name: 'x',
	on: true,
	effect: 'block',
	lead: { dimension: 'none', under: ['x'] },
	others: [{ dimension: 'product', under: ['kayaks'] }]
};

/** What is asked of each route. Requests that would change something are made so that they fail after the question of rights. */
export const API: Record<string, Request[]> = {
	me: [{ method: 'GET', path: 'me', open: ALL, status: 200 }],
	'me/preferences': [
		{ method: 'GET', path: 'me/preferences', open: ALL, status: 200 },
		{ method: 'POST', path: 'me/preferences', body: { density: 'none' }, open: ALL, status: 400 }
	],
	'me/tokens': [
		{ method: 'GET', path: 'me/tokens', open: ALL, status: 200 },
		{ method: 'POST', path: 'me/tokens', body: { name: '' }, open: ALL, status: 400 }
	],
	'me/tokens/[id]': [{ method: 'DELETE', path: 'me/tokens/999999', open: ALL, status: 404 }],
	'me/password': [{ method: 'POST', path: 'me/password', body: { next: 'short' }, open: ALL, status: 400 }],
	scenarios: [
		{ method: 'GET', path: 'scenarios', open: ALL, status: 200 },
		{
			method: 'POST',
			path: 'scenarios',
			body: { from: 'none', name: 'x', kind: 'what-if' },
			open: ['analyst'],
			status: 404
		}
	],
	founding: [{ method: 'POST', path: 'founding', body: {}, open: ALL, status: 409 }],
	'founding/folder': [
		{ method: 'POST', path: 'founding/folder', body: {}, file: true, open: ALL, status: 409 }
	],
	'founding/worksheets': [
		{ method: 'POST', path: 'founding/worksheets', body: {}, file: true, open: ALL, status: 409 }
	],
	worksheets: [{ method: 'POST', path: 'worksheets', body: {}, file: true, open: ALL, status: 200 }],
	company: [
		{ method: 'GET', path: 'company', open: ['analyst'], status: 200 },
		{
			method: 'PATCH',
			path: 'company',
			body: { module: 'targets', on: false },
			open: ['analyst'],
			status: 422
		}
	],
	'company/folder': [{ method: 'GET', path: 'company/folder', open: ['analyst'], status: 200 }],
	'founding/history': [{ method: 'POST', path: 'founding/history', body: {}, open: ALL, status: 409 }],
	people: [
		{ method: 'GET', path: 'people', open: ['analyst'], status: 200 },
		{ method: 'POST', path: 'people', body: { email: 'none' }, open: ['analyst'], status: 400 }
	],
	'people/[email]': [
		{
			method: 'PATCH',
			path: 'people/nobody@kelpwick.example',
			body: { role: 'analyst' },
			open: ['analyst'],
			status: 404
		}
	],
	'people/[email]/link': [
		{
			method: 'POST',
			path: 'people/nobody@kelpwick.example/link',
			body: {},
			open: ['analyst'],
			status: 404
		}
	],
	'people/[email]/sessions': [
		{
			method: 'DELETE',
			path: 'people/nobody@kelpwick.example/sessions',
			open: ['analyst'],
			status: 404
		}
	],
	accounts: [
		{ method: 'GET', path: 'accounts', open: ['analyst'], status: 200 },
		{
			method: 'POST',
			path: 'accounts',
			body: { parent: 'none', outline: 'X' },
			open: ['analyst'],
			status: 404
		},
		{
			method: 'PATCH',
			path: 'accounts',
			body: { cells: [{ account: 'none', column: 'name', before: 'X', value: 'Y' }] },
			open: ['analyst'],
			status: 404
		}
	],
	'accounts/[account]': [
		{ method: 'PATCH', path: 'accounts/none', body: { name: 'X' }, open: ['analyst'], status: 404 },
		{ method: 'DELETE', path: 'accounts/none', open: ['analyst'], status: 404 }
	],
	departments: [
		{ method: 'GET', path: 'departments', open: ['analyst'], status: 200 },
		{
			method: 'PATCH',
			path: 'departments',
			body: { cells: [{ department: 'none', column: 'name', before: 'X', value: 'Y' }] },
			open: ['analyst'],
			status: 404
		},
		{
			method: 'POST',
			path: 'departments',
			body: { parent: 'none', outline: 'X' },
			open: ['analyst'],
			status: 404
		}
	],
	'departments/[department]': [
		{ method: 'PATCH', path: 'departments/none', body: { name: 'X' }, open: ['analyst'], status: 404 },
		{ method: 'DELETE', path: 'departments/none', open: ['analyst'], status: 404 }
	],
	entities: [{ method: 'POST', path: 'entities', body: { name: '' }, open: ['analyst'], status: 400 }],
	'entities/[entity]': [
		{ method: 'PATCH', path: 'entities/none', body: { name: 'X' }, open: ['analyst'], status: 404 }
	],
	rates: [
		{ method: 'GET', path: 'rates', open: ['analyst'], status: 200 },
		{ method: 'POST', path: 'rates', body: { name: '' }, open: ['analyst'], status: 400 }
	],
	'rates/[set]': [
		{ method: 'PATCH', path: 'rates/none', body: { name: 'X' }, open: ['analyst'], status: 404 },
		{ method: 'DELETE', path: 'rates/none', open: ['analyst'], status: 404 }
	],
	'rates/[set]/cells': [
		{
			method: 'POST',
			path: 'rates/none/cells',
			body: { cells: [{ currency: 'EUR', kind: 'closing', period: '2026-04', before: null, value: 1 }] },
			open: ['analyst'],
			status: 404
		}
	],
	'rates/[set]/load': [
		{ method: 'POST', path: 'rates/none/load', body: { text: 'x' }, open: ['analyst'], status: 404 }
	],
	mail: [{ method: 'GET', path: 'mail', open: ['analyst'], status: 200 }],
	'scenarios/[code]/package': [
		{ method: 'GET', path: 'scenarios/fy28-budget/package', open: COMPANY, status: 200 },
		{ method: 'GET', path: 'scenarios/fy28-budget/package?model=none', open: COMPANY, status: 404 }
	],
	'scenarios/[code]/lock': [
		{ method: 'POST', path: 'scenarios/none/lock', body: { locked: true }, open: ['analyst'], status: 404 }
	],
	'scenarios/[code]': [
		{ method: 'PATCH', path: 'scenarios/none', body: { name: 'x' }, open: ['analyst'], status: 404 },
		{ method: 'DELETE', path: 'scenarios/none', open: ['analyst'], status: 404 }
	],
	'scenarios/[code]/restore': [
		{ method: 'POST', path: 'scenarios/none/restore', body: {}, open: ['analyst'], status: 404 }
	],
	'scenarios/[code]/adjustments': [
		{ method: 'GET', path: 'scenarios/dearer-kayaks/adjustments', open: COMPANY, status: 200 },
		{
			method: 'POST',
			path: 'scenarios/dearer-kayaks/adjustments',
			body: { action: 'remove', code: 'none' },
			open: ['analyst'],
			status: 404
		}
	],
	'scenarios/[code]/adjustments/effects': [
		{
			method: 'POST',
			path: 'scenarios/dearer-kayaks/adjustments/effects',
			body: {
				department: 'kelpwick',
				from: '2026-10',
				to: '2027-09',
				money: 'reporting',
				adjustments: []
			},
			open: COMPANY,
			status: 200
		}
	],
	'scenarios/[code]/adjustments/adopt': [
		{
			method: 'POST',
			path: 'scenarios/dearer-kayaks/adjustments/adopt',
			body: { codes: ['none'] },
			open: ['analyst'],
			status: 404
		}
	],
	'scenarios/[code]/history': [
		{ method: 'GET', path: 'scenarios/dearer-kayaks/history', open: COMPANY, status: 200 }
	],
	'scenarios/[code]/history/as-of': [
		{
			method: 'POST',
			path: 'scenarios/dearer-kayaks/history/as-of',
			body: { batch: 'none' },
			open: ['analyst'],
			status: 404
		}
	],
	'scenarios/[code]/history/undo': [
		{
			method: 'POST',
			path: 'scenarios/dearer-kayaks/history/undo',
			body: { batch: 'none' },
			open: ['analyst'],
			status: 404
		}
	],
	events: [{ method: 'GET', path: 'events?scenario=none&tab=x&at=/plan', open: ALL, status: 404 }],
	notes: [
		{ method: 'GET', path: `notes?${S}&${ACCOUNT}&row=dealer-sales`, open: ALL, status: 200 },
		{ method: 'GET', path: `notes?${S}&${ACCOUNT}&row=rigging`, open: COMPANY, status: 200 },
		{
			method: 'POST',
			path: 'notes',
			body: { scenario: 'fy28-budget', cell: place, text: 'x', answers: 999_999 },
			open: ['analyst', 'reviewer', 'contributor'],
			status: 404
		}
	],
	'notes/[id]': [{ method: 'DELETE', path: 'notes/999999', open: ALL, status: 404 }],
	'notes/items': [
		{
			method: 'POST',
			path: 'notes/items',
			body: {
				scenario: 'fy28-budget',
				cell: place,
				before: 5,
				items: [{ description: 'x', quantity: null, rate: null, amount: 1 }]
			},
			open: ['analyst', 'contributor'],
			status: 409
		}
	],
	'notes/attachments': [
		{
			method: 'POST',
			path: 'notes/attachments',
			body: { scenario: 'fy28-budget', cell: { ...place, line: 'none' } },
			file: true,
			open: ['analyst', 'reviewer', 'contributor'],
			status: 404
		}
	],
	'notes/attachments/[id]': [
		{ method: 'GET', path: 'notes/attachments/999999', open: ALL, status: 404 },
		{ method: 'DELETE', path: 'notes/attachments/999999', open: ALL, status: 404 }
	],
	plan: [
		{ method: 'GET', path: `plan?${S}&department=dealer-sales&${W}`, open: ALL, status: 200 },
		{ method: 'GET', path: `plan?${S}&department=rigging&${W}`, open: COMPANY, status: 200 },
		{ method: 'GET', path: `plan?${S}&department=kelpwick&${W}`, open: COMPANY, status: 200 }
	],
	'scenarios/[code]/cells': [
		{
			method: 'POST',
			path: 'scenarios/fy28-budget/cells',
			body: { edits: [typedIn(own.department)] },
			open: ['analyst', 'contributor'],
			status: 422
		},
		{
			method: 'POST',
			path: 'scenarios/fy28-budget/cells',
			body: { edits: [typedIn(other.department)] },
			open: ['analyst'],
			status: 422
		},
		{
			method: 'POST',
			path: 'scenarios/fy28-budget/cells',
			body: { edits: [typedIn(own.department), typedIn(other.department)] },
			open: ['analyst'],
			status: 422
		},
		{
			method: 'POST',
			path: 'scenarios/fy28-budget/cells',
			body: { edits: [{ ...typedIn(''), block: 'none', line: 'units' }] },
			open: ['analyst'],
			status: 404
		}
	],
	'plan/basis': [
		{
			method: 'POST',
			path: 'plan/basis',
			body: { ...own, account: 'none', basis: { kind: 'typed' } },
			open: ['analyst', 'contributor'],
			status: 422
		},
		{
			method: 'POST',
			path: 'plan/basis',
			body: { ...other, account: 'none', basis: { kind: 'typed' } },
			open: ['analyst'],
			status: 422
		}
	],
	'plan/targets': [{ method: 'GET', path: `plan/targets?${S}&${W}`, open: ALL, status: 200 }],
	profiles: [
		{ method: 'GET', path: 'profiles', open: ALL, status: 200 },
		{
			method: 'POST',
			path: 'profiles',
			body: { code: null, name: 'x', weights: [1] },
			open: ['analyst'],
			status: 422
		}
	],
	'profiles/[code]': [{ method: 'DELETE', path: 'profiles/none', open: ['analyst'], status: 404 }],
	'plan/parts': [
		{ method: 'GET', path: `plan/parts?${S}&department=kelpwick&${W}`, open: COMPANY, status: 200 },
		{
			method: 'GET',
			path: `plan/parts?${S}&department=dealer-sales&accounts=6240&${W}`,
			open: ALL,
			status: 200
		}
	],
	'plan/preview': [
		{
			method: 'POST',
			path: 'plan/preview',
			body: {
				scenario: 'fy28-budget',
				from: '2027-04',
				to: '2028-03',
				edits: [{ ...place, value: 1 }],
				shown: [{ department: 'dealer-sales', accounts: null }]
			},
			open: ['analyst', 'contributor'],
			status: 200
		},
		{
			method: 'POST',
			path: 'plan/preview',
			body: {
				scenario: 'fy28-budget',
				from: '2027-04',
				to: '2028-03',
				edits: [],
				shown: [{ department: 'rigging', accounts: null }]
			},
			open: ['analyst'],
			status: 200
		}
	],
	'plan/under': [
		{
			method: 'GET',
			path: `plan/under?${S}&department=dealer-sales&account=revenue&${W}`,
			open: ALL,
			status: 200
		},
		{
			method: 'GET',
			path: `plan/under?${S}&department=rigging&account=revenue&${W}`,
			open: COMPANY,
			status: 200
		}
	],
	models: [
		{ method: 'GET', path: `models?${S}`, open: COMPANY, status: 200 },
		{
			method: 'POST',
			path: 'models',
			body: { scenarios: ['none'], name: 'x', from: { kind: 'blank', dimensions: [] } },
			open: ['analyst'],
			status: 404
		}
	],
	schedules: [
		{ method: 'GET', path: `schedules?${S}`, open: ALL, status: 200 },
		{
			method: 'POST',
			path: 'schedules',
			body: { scenarios: ['none'], name: 'x', from: { kind: 'blank' } },
			open: ['analyst'],
			status: 404
		}
	],
	'schedules/[code]': [
		{ method: 'GET', path: `schedules/staff?${S}&${W}`, open: ALL, status: 200 },
		{
			method: 'GET',
			path: `schedules/staff?${S}&${W}&department=hull-shop`,
			open: COMPANY,
			status: 200
		},
		{ method: 'GET', path: `schedules/none?${S}&${W}`, open: ALL, status: 404 }
	],
	'schedules/[code]/compared': [
		{ method: 'GET', path: `schedules/staff/compared?${S}&${W}&with=fy28-budget`, open: ALL, status: 200 },
		{
			method: 'GET',
			path: `schedules/staff/compared?${S}&${W}&with=fy28-budget&department=hull-shop`,
			open: COMPANY,
			status: 200
		},
		{ method: 'GET', path: `schedules/staff/compared?${S}&${W}&with=none`, open: ALL, status: 404 }
	],
	'schedules/[code]/preview': [
		{
			method: 'POST',
			path: 'schedules/staff/preview',
			body: { scenario: 'fy28-budget', from: '2027-04', to: '2028-03' },
			open: ALL,
			status: 200
		}
	],
	'schedules/[code]/rows': [
		{
			method: 'POST',
			path: 'schedules/none/rows',
			body: { scenario: 'fy28-budget', changes: [{ kind: 'remove', id: 'x' }] },
			open: ['analyst'],
			status: 404
		}
	],
	'schedules/[code]/import': [
		{
			method: 'POST',
			path: 'schedules/staff/import',
			body: { scenario: 'fy28-budget', text: 'name\nX', dry: true },
			open: ['analyst'],
			status: 422
		}
	],
	'schedules/[code]/template': [
		{ method: 'GET', path: `schedules/staff/template?${S}`, open: ['analyst'], status: 200 }
	],
	'schedules/[code]/definition': [
		{ method: 'GET', path: `schedules/staff/definition?${S}`, open: ['analyst'], status: 200 },
		{
			method: 'POST',
			path: 'schedules/none/definition',
			body: { scenarios: ['fy28-budget'], version: 'x', definition: null },
			open: ['analyst'],
			status: 409
		}
	],
	'models/[code]/definition': [
		{ method: 'GET', path: `models/boat_sales/definition?${S}`, open: COMPANY, status: 200 },
		{
			method: 'POST',
			path: 'models/boat_sales/definition',
			body: { scenarios: ['fy28-budget'], version: 'old', definition: null },
			open: ['analyst'],
			status: 409
		}
	],
	'models/[code]/rows': [
		{
			method: 'POST',
			path: 'models/none/rows',
			body: { action: 'add', rows: [['x']] },
			open: ['analyst'],
			status: 404
		}
	],
	dimensions: [
		{ method: 'GET', path: 'dimensions', open: COMPANY, status: 200 },
		{ method: 'POST', path: 'dimensions', body: { name: 'Product' }, open: ['analyst'], status: 409 }
	],
	'dimensions/[dimension]/members': [
		{
			method: 'POST',
			path: 'dimensions/product/members',
			body: { name: 'Scoter 14' },
			open: ['analyst'],
			status: 409
		}
	],
	'dimensions/[dimension]/members/import': [
		{
			method: 'POST',
			path: 'dimensions/product/members/import',
			body: { text: 'none', dry: true },
			open: ['analyst'],
			status: 422
		}
	],
	'dimensions/[dimension]/members/[member]': [
		{
			method: 'PATCH',
			path: 'dimensions/product/members/none',
			body: { name: 'x' },
			open: ['analyst'],
			status: 404
		},
		{ method: 'DELETE', path: 'dimensions/product/members/none', open: ['analyst'], status: 404 }
	],
	'combination-rules': [
		{ method: 'GET', path: 'combination-rules', open: COMPANY, status: 200 },
		{ method: 'POST', path: 'combination-rules', body: badRule, open: ['analyst'], status: 422 }
	],
	'combination-rules/try': [
		{ method: 'POST', path: 'combination-rules/try', body: badRule, open: ['analyst'], status: 422 }
	],
	'combination-rules/[code]': [
		{ method: 'PATCH', path: 'combination-rules/none', body: { on: true }, open: ['analyst'], status: 404 },
		{ method: 'DELETE', path: 'combination-rules/none', open: ['analyst'], status: 404 }
	],
	'models/[code]': [
		{ method: 'GET', path: `models/boat_sales?${S}&${W}`, open: COMPANY, status: 200 },
		{
			method: 'POST',
			path: 'models/boat_sales',
			body: { scenario: 'fy28-budget', from: '2027-04', to: '2028-03' },
			open: COMPANY,
			status: 200
		}
	],
	'opened-rows': [{ method: 'POST', path: 'opened-rows', body: { open: 1 }, open: COMPANY, status: 400 }],
	'models/[code]/preview': [
		{
			method: 'POST',
			path: 'models/boat_sales/preview',
			body: {
				scenario: 'fy28-budget',
				from: '2027-04',
				to: '2028-03',
				edits: [{ line: 'units', row: 'tern-9|dealer|south', period: '2027-04', value: 1 }]
			},
			open: COMPANY,
			status: 200
		}
	],
	'models/[code]/formula': [
		{
			method: 'POST',
			path: 'models/none/formula',
			body: { scenario: 'fy28-budget', line: 'x', formula: '1' },
			open: ['analyst'],
			status: 404
		}
	],
	'feeds/preview': [
		{ method: 'POST', path: 'feeds/preview', file: true, body: {}, open: ['analyst'], status: 200 }
	],
	'feeds/run': [
		{
			method: 'POST',
			path: 'feeds/run',
			file: true,
			body: {
				options: { columns: {}, decimal: '.', dates: 'year-first', positive: 'debit' },
				month: '2026-10'
			},
			open: ['analyst'],
			status: 422
		}
	],
	'feeds/months': [{ method: 'GET', path: 'feeds/months', open: ['analyst'], status: 200 }],
	'feeds/months/[month]': [
		{ method: 'DELETE', path: 'feeds/months/2030-01', open: ['analyst'], status: 404 }
	],
	'feeds/runs': [{ method: 'GET', path: 'feeds/runs', open: ['analyst'], status: 200 }],
	map: [
		{ method: 'GET', path: 'map', open: ['analyst'], status: 200 },
		{
			method: 'POST',
			path: 'map',
			body: { ledgers: ['none'], account: null },
			open: ['analyst'],
			status: 404
		}
	],
	'map/new': [
		{
			method: 'POST',
			path: 'map/new',
			body: { accounts: [{ name: 'New', heading: 'none', ledgers: ['none'] }] },
			open: ['analyst'],
			status: 404
		}
	],
	rounds: [
		{ method: 'GET', path: 'rounds', open: ALL, status: 200 },
		{
			method: 'POST',
			path: 'rounds',
			body: { name: 'x', scenario: 'fy28-budget', due: '2026-12-01', departments: [] },
			open: ['analyst'],
			status: 422
		}
	],
	'rounds/[round]/[department]': [
		{
			method: 'POST',
			path: 'rounds/fy28-budget/design-office',
			body: { action: 'approve' },
			open: ['analyst', 'reviewer'],
			status: 409
		},
		{
			method: 'POST',
			path: 'rounds/fy28-budget/sites-it',
			body: { action: 'return' },
			open: ['analyst', 'reviewer'],
			status: 409
		}
	],
	close: [
		{ method: 'GET', path: 'close', open: ['analyst'], status: 200 },
		{
			method: 'POST',
			path: 'close',
			body: { month: '2020-01', from: 'none', name: 'x' },
			open: ['analyst'],
			status: 409
		}
	],
	'close/reopen': [
		{
			method: 'POST',
			path: 'close/reopen',
			body: { month: '2020-01', why: 'x' },
			open: ['analyst'],
			status: 409
		}
	],
	variance: [
		{
			method: 'GET',
			path: 'variance?scenario=actuals&against=last-year&department=dealer-sales&period=2026-09',
			open: ALL,
			status: 200
		},
		{
			method: 'GET',
			path: 'variance?scenario=actuals&against=last-year&department=kelpwick&period=2026-09&format=csv',
			open: COMPANY,
			status: 200
		}
	],
	trace: [
		{
			method: 'POST',
			path: 'trace',
			body: {
				scenario: 'actuals',
				ref: { kind: 'account', account: '6000', department: 'rigging', from: '2026-09', to: '2026-09' }
			},
			open: COMPANY,
			status: 200
		},
		{
			method: 'POST',
			path: 'trace',
			body: {
				scenario: 'fy28-budget',
				ref: { kind: 'line', model: 'assumptions', line: 'price_rise', row: '', period: '2027-04' }
			},
			open: COMPANY,
			status: 200
		}
	]
};
