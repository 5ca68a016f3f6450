/** How a plan's rows stand, in each arrangement. */
import { describe, expect, it } from 'vitest';
import type { PlanRow } from '../../core/views/plan-rows';
import {
	cellRow,
	departmentsUnder,
	figuresOf,
	MOST_SEARCHED,
	openedToFind,
	partKey,
	pathsFor,
	placeOf,
	planGridRows,
	toggleOf,
	type PlanTree
} from './rows';

const departments = [
	{ code: 'all', name: 'All', depth: 0, leaf: false },
	{ code: 'north', name: 'North', depth: 1, leaf: false },
	{ code: 'quay', name: 'Quay', depth: 2, leaf: true },
	{ code: 'yard', name: 'Yard', depth: 2, leaf: true },
	{ code: 'south', name: 'South', depth: 1, leaf: true }
];
const account = (code: string, parent: string | null, leaf: boolean) =>
	({ account: code, name: code, parent, leaf, format: 'money', total: 1 }) as PlanRow;
const accounts = [
	account('profit', null, false),
	account('sales', 'profit', true),
	account('wages', 'profit', true)
];
const tree = (opened: string[], folded: string[] = [], empty: string[] = []): PlanTree => ({
	departments,
	selected: departments[0],
	accounts,
	row: (code, department) => ({ ...accounts.find((a) => a.account === code)!, department }),
	folded: new Set(folded),
	opened: new Set(opened),
	shown: (r) => !empty.includes(r.department)
});
const keys = (...of: Parameters<typeof planGridRows>) =>
	planGridRows(...of).map(
		(r) => `${'.'.repeat(r.indent ?? 0)}${r.key}${r.toggle === 'open' ? '▾' : r.toggle ? '▸' : ''}`
	);

describe('names of cells', () => {
	it('are the account alone in the department shown, and tell the department elsewhere', () => {
		expect(cellRow('4000', 'all', 'all')).toBe('4000');
		expect(placeOf('4000', 'all')).toEqual({ account: '4000', department: 'all' });
		expect(cellRow('4000', 'quay', 'all')).toBe(partKey('4000', 'quay'));
		expect(placeOf('4000@quay', 'all')).toEqual({ account: '4000', department: 'quay' });
		expect(figuresOf('heading:profit', 'all')).toBeNull();
		expect(figuresOf('department:profit@quay', 'all')).toEqual({ account: 'profit', department: 'quay' });
	});
	it('find the departments directly under one', () => {
		const under = (code: string) => departmentsUnder(departments, code).map((d) => d.code);
		expect(under('all')).toEqual(['north', 'south']);
		expect(under('north')).toEqual(['quay', 'yard']);
		expect(under('south')).toEqual([]);
		expect(under('nowhere')).toEqual([]);
	});
});

describe('balances', () => {
	it('stand under their headings, which do not say what they come to', () => {
		const own = [
			...accounts,
			...[account('assets', null, false), account('prepaid', 'assets', true)].map((a) => ({
				...a,
				type: 'asset' as const
			}))
		];
		const plan = { ...tree([]), accounts: own, row: (code: string) => own.find((a) => a.account === code) };
		expect(keys(plan, 'accounts').slice(3)).toEqual(['profit', 'heading:assets▾', '.prepaid▸']);
		expect(keys({ ...plan, folded: new Set(['assets']) }, 'accounts').slice(4)).toEqual(['assets▸']);
	});
});

describe('accounts, then departments', () => {
	it('open level by level', () => {
		expect(keys(tree([]), 'accounts')).toEqual(['heading:profit▾', '.sales▸', '.wages▸', 'profit']);
		expect(keys(tree(['sales', 'sales@north']), 'accounts')).toEqual([
			'heading:profit▾',
			'.sales▾',
			'..sales@north▾',
			'...sales@quay',
			'...sales@yard',
			'..sales@south',
			'.wages▸',
			'profit'
		]);
	});
	it('leave out departments without figures, and fold into their total', () => {
		expect(keys(tree(['sales'], [], ['south']), 'accounts')).not.toContain('..sales@south');
		expect(keys(tree(['sales'], ['profit']), 'accounts')).toEqual(['profit▸']);
	});
	it('do not open where departments stand across', () => {
		expect(keys(tree(['sales']), 'across')).toEqual(['heading:profit▾', '.sales', '.wages', 'profit']);
	});
});

describe('departments, then accounts', () => {
	it('open into those under them, and into their statements', () => {
		expect(keys(tree(['department:profit@north', 'department:profit@quay']), 'departments')).toEqual([
			'department:profit@north▾',
			'.department:profit@quay▾',
			'..heading:profit@quay▾',
			'...sales@quay',
			'...wages@quay',
			'..profit@quay',
			'.department:profit@yard▸',
			'department:profit@south▸',
			'profit'
		]);
	});
	it('have no two rows of one name', () => {
		const all = departments.map((d) => `department:profit@${d.code}`);
		const names = planGridRows(tree(all), 'departments').map((r) => r.key);
		expect(new Set(names).size).toBe(names.length);
	});
});

describe('a toggle', () => {
	it('folds a group of accounts wherever it stands, and opens all else by itself', () => {
		const toggles = (opened: string[], arrangement: 'accounts' | 'departments') =>
			planGridRows(tree(opened), arrangement)
				.filter((r) => r.toggle)
				.map((r) => toggleOf(r, 'all'));
		expect(toggles(['sales'], 'accounts')).toEqual([
			{ folds: 'profit' },
			{ opens: 'sales' },
			{ opens: 'sales@north' },
			{ opens: 'wages' }
		]);
		expect(toggles(['department:profit@south'], 'departments')).toEqual([
			{ opens: 'department:profit@north' },
			{ opens: 'department:profit@south' },
			{ folds: 'profit' }
		]);
	});
});

describe('what is read', () => {
	it('is what is opened, and no more', () => {
		const read = (opened: string[], arrangement: Parameters<typeof pathsFor>[1]) =>
			pathsFor(tree(opened), arrangement).map(
				({ path, query }) => `${path} ${Object.values(query).join(' ')}`
			);
		expect(read([], 'accounts')).toEqual([]);
		expect(read(['sales', 'sales@north'], 'accounts')).toEqual([
			'plan/parts all sales',
			'plan/parts north sales'
		]);
		expect(read(['sales'], 'across')).toEqual(['plan/parts all']);
		expect(read(['department:profit@north', 'department:profit@quay'], 'departments')).toEqual([
			'plan/parts all profit',
			'plan/parts north profit',
			'plan quay'
		]);
		expect(pathsFor({ ...tree(['sales']), selected: departments[4] }, 'accounts')).toEqual([]);
	});
});

describe('a department that is sought', () => {
	const found = (words: string) => openedToFind(tree([]), words);
	it('has what it lies under opened, and nothing else', () => {
		expect(found('yar')).toEqual(['department:profit@north']);
		expect(found('SOUTH')).toEqual([]);
		expect(found('north')).toEqual([]);
		expect(found('nowhere')).toEqual([]);
		expect(found('')).toEqual([]);
	});
	it('is opened into its accounts where one of these is sought, unless there are too many', () => {
		const all = ['north', 'quay', 'yard', 'south'].map((d) => `department:profit@${d}`);
		expect(found('wage')).toEqual(all);
		expect(keys(tree(found('wage')), 'departments')).toContain('...wages@yard');
		const many = Array.from({ length: MOST_SEARCHED }, (_, i) => ({ ...departments[4], code: `d${i}` }));
		expect(openedToFind({ ...tree([]), departments: [...departments, ...many] }, 'wage')).toEqual([]);
	});
	it('is then among the rows', () => {
		expect(keys(tree(found('yard')), 'departments')).toContain('.department:profit@yard▸');
	});
});
