/** What a plan's grid shows and what can be typed in it, without a page. */
import { describe, expect, it } from 'vitest';
import { monthCalendar } from '../../core/calendar/calendar';
import type { PlanRow } from '../../core/views/plan-rows';
import type { Origin } from '../../core/inputs/basis';
import { EditBatch } from '../grid/editing/edits.svelte';
import type { GridRow } from '../grid/types';
import { PlanCells } from './cells.svelte';
import { planColumns } from './columns';
import { partKey } from './rows';

const calendar = monthCalendar(4);
const APR = calendar.parse('2027-04')!;
const window = { from: APR, to: APR + 2 };
const spans = [0, 1, 2].map((i) => ({ from: APR + i, to: APR + i }));
const typedBasis: Origin = { kind: 'basis', basis: { kind: 'typed' } };
const lastYear: Origin = { kind: 'basis', basis: { kind: 'last-year', percent: 0.03 } };

function row(
	account: string,
	department: string,
	cells: (number | null)[],
	more: Partial<PlanRow> = {}
): PlanRow {
	const total = cells.reduce<number>((a, c) => a + (c ?? 0), 0);
	return {
		account,
		department,
		name: account,
		parent: 'profit',
		depth: 1,
		type: 'expense',
		format: 'money',
		leaf: true,
		sums: true,
		cells,
		quarters: [total],
		total,
		lastYear: null,
		target: null,
		basisTotal: null,
		typed: null,
		origin: null,
		open: true,
		...more
	};
}
const profit = (department: string, revenue: number, cost: number) => [
	row('profit', department, [revenue - cost, 0, 0], { parent: null, depth: 0, type: 'revenue', leaf: false }),
	row('sales', department, [revenue, 0, 0], { type: 'revenue' }),
	row('wages', department, [cost, 0, 0])
];

interface World {
	leaf?: boolean;
	rows: PlanRow[];
	parts?: PlanRow[];
	rights?: Record<string, { editable: boolean; reason: string }>;
	changed?: PlanRow[];
	edits?: EditBatch;
	target?: boolean;
	/** Departments stand across. */
	across?: boolean;
}
const RIGHT = { editable: true, reason: '', submission: null };
function planned({ leaf = true, rows, parts = [], rights = {}, changed = [], edits, target, across }: World) {
	const byPart = (list: PlanRow[]) => new Map(list.map((r) => [partKey(r.account, r.department), r]));
	const columns = planColumns({
		calendar,
		spans,
		across: across ? [{ code: 'web', name: 'Web' }] : null,
		beside: [],
		bases: leaf,
		onTop: leaf,
		targets: target === true,
		monthWidth: 60,
		totalWidth: 80
	});
	const cells = new PlanCells({
		plan: {
			rows,
			open: APR + 1,
			last: APR + 2,
			right: RIGHT as never,
			plans: true,
			target: target ? { name: 'Targets' } : null,
			marks: [{ line: 'wages', period: APR + 1, notes: 2, items: 0, attachments: 1, last: 'Rise agreed' }]
		},
		department: { code: 'all', leaf },
		calendar,
		window,
		spans,
		quarters: [window],
		edits: edits ?? new EditBatch(),
		parts: { rows: byPart(parts), rights: new Map(Object.entries(rights)) as never },
		preview: { rows: byPart(changed), current: changed.length > 0 },
		other: undefined,
		names: { account: (c) => c, model: (c) => c, driver: (c) => c },
		leads: true
	});
	const at = (key: string, column: string) =>
		cells.at({ key } as GridRow, columns.find((c) => c.key === column) ?? ({ key: column } as never))!;
	return { at, columns };
}

describe('a department’s plan', () => {
	const wages = row('wages', 'all', [10, 20, 30], {
		typed: [null, 20, null],
		origin: lastYear,
		lastYear: 50,
		basisTotal: 55
	});
	it('is typed in open months, with a mark where that lies over a basis', () => {
		const { at } = planned({ rows: [wages] });
		expect(at('wages', '2027-04')).toMatchObject({ editable: false, value: 10 });
		expect(at('wages', '2027-04').reason).toBe('April 2027 is closed and cannot be typed.');
		expect(at('wages', '2027-05')).toMatchObject({ editable: true, override: true, typed: 20 });
		expect(at('wages', '2027-06')).toMatchObject({ editable: true, override: false });
		const plain = planned({ rows: [{ ...wages, origin: typedBasis }] });
		expect(plain.at('wages', '2027-05').override).toBe(false);
	});
	it('tells of notes and files on a cell', () => {
		expect(planned({ rows: [wages] }).at('wages', '2027-05').glyphs).toEqual([
			{ shape: 'note', words: '2 notes: Rise agreed' },
			{ shape: 'attachment', words: '1 attachment' }
		]);
	});
	it('shows its basis, the change to last year, and what lies on top of the basis', () => {
		const { at } = planned({ rows: [wages] });
		expect(at('wages', 'basis')).toMatchObject({ text: 'last year +3 %', action: true });
		expect(at('wages', 'change').value).toBe(10);
		expect(at('wages', 'percent').text).toBe('20.0 %');
		expect(at('wages', 'over').value).toBe(5);
	});
	it('moves its totals with what is typed, before anything else is known', () => {
		const edits = new EditBatch();
		edits.apply([{ row: 'wages', column: '2027-06', before: null, value: 100 }]);
		const { at } = planned({ rows: [wages], edits });
		expect(at('wages', 'total')).toMatchObject({ value: 130, preview: true });
		expect(at('wages', 'over').value).toBe(75);
	});
	it('shows the gap to a target in the sense of its account', () => {
		const { at } = planned({ rows: [{ ...wages, target: 70 }], target: true });
		expect(at('wages', 'gap')).toMatchObject({ value: -10, tone: 'good' });
		const over = planned({ rows: [{ ...wages, target: 50 }], target: true });
		expect(over.at('wages', 'gap')).toMatchObject({ value: 10, tone: 'bad' });
	});
});

describe('a plan of several departments', () => {
	const rows = profit('all', 100, 60);
	it('takes totals of one kind and refuses those that mix revenue and expense', () => {
		const { at } = planned({ leaf: false, rows });
		expect(at('wages', '2027-05')).toMatchObject({ editable: false, spreads: true });
		expect(at('profit', '2027-05').spreads).toBe(false);
		expect(at('profit', '2027-05').reason).toMatch(/^A total of the accounts under it; type into those/);
	});
	it('says where nothing under a total can be typed', () => {
		const { at } = planned({ leaf: false, rows: [rows[0], { ...rows[1], open: false }, rows[2]] });
		expect(at('sales', '2027-05').spreads).toBe(false);
		expect(at('sales', '2027-05').reason).toMatch(/driver models, or cannot be planned now/);
	});
	it('keeps to the rights of each department that is opened', () => {
		const parts = ['web', 'shop'].map((d) => row('wages', d, [1, 2, 3], { typed: [null, null, null] }));
		const rights = {
			web: { editable: true, reason: '' },
			shop: { editable: false, reason: 'Shop has submitted.' }
		};
		const { at } = planned({ leaf: false, rows, parts, rights });
		expect(at('wages@web', '2027-05').editable).toBe(true);
		expect(at('wages@shop', '2027-05')).toMatchObject({ editable: false, reason: 'Shop has submitted.' });
		expect(at('wages@dock', '2027-05')).toBeUndefined();
	});
	it('shows departments across, and what would follow from typing', () => {
		const web = row('wages', 'web', [1, 2, 3]);
		const changed = [{ ...web, total: 9 }];
		const { at } = planned({ leaf: false, rows, parts: [web], changed, across: true });
		expect(at('wages', 'department/web')).toMatchObject({ value: 9, preview: true });
	});
});
