/** The engine's parts, each on its own. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { gatherIndex, reduceShape, sharedDimensions } from './align';
import { CycleError, orderComponents, type Edge } from './order/graph';
import { BINARY, type View } from './machine/kernels';
import { BLANK, DIV0, blankPeriods, cellAt, marksOf, newMatrix, NUM, setCell, toCell } from './values';

describe('lining up rows', () => {
	const sales = {
		dimensions: ['product', 'region'],
		rows: [
			['p', 'n'],
			['p', 's'],
			['q', 'n']
		]
	};
	it('broadcasts a block with fewer dimensions', () => {
		expect([...gatherIndex(sales, { dimensions: ['region'], rows: [['s'], ['n']] })]).toEqual([1, 0, 1]);
		expect([...gatherIndex(sales, { dimensions: [], rows: [[]] })]).toEqual([0, 0, 0]);
	});
	it('says where there is nothing to read', () => {
		expect([...gatherIndex(sales, { dimensions: ['region'], rows: [['s']] })]).toEqual([-1, 0, -1]);
	});
	it('does not care in which order a block names its dimensions', () => {
		expect([
			...gatherIndex(sales, {
				dimensions: ['region', 'product'],
				rows: [
					['n', 'q'],
					['s', 'p']
				]
			})
		]).toEqual([-1, 1, 0]);
	});
	it('sums rows away', () => {
		const { shape, index } = reduceShape(sales, ['product']);
		expect(shape.rows).toEqual([['p'], ['q']]);
		expect([...index]).toEqual([0, 0, 1]);
		expect(reduceShape({ dimensions: ['product'], rows: [] }, []).shape.rows).toEqual([[]]);
		expect(sharedDimensions(sales, { dimensions: ['region', 'year'], rows: [] })).toEqual(['region']);
	});
});

describe('order of calculation', () => {
	const edge = (to: number, lag = 0): Edge => ({ to, lag });
	it('puts what is read before what reads it', () => {
		const components = orderComponents([[edge(1), edge(2)], [edge(2)], []]);
		expect(components.map((c) => c.nodes)).toEqual([[2], [1], [0]]);
		expect(components.every((c) => c.step === Infinity)).toBe(true);
	});
	it('joins what looks at its own past, with the shortest look back as its step', () => {
		const [self] = orderComponents([[edge(0, 12)]]);
		expect(self).toEqual({ nodes: [0], step: 12 });
		const [pair] = orderComponents([[edge(1)], [edge(0, 3), edge(1, 1)]]);
		expect(pair).toEqual({ nodes: [1, 0], step: 1 });
	});
	it('refuses a circle within a period and names it from first to first', () => {
		let path: number[] = [];
		try {
			orderComponents([[edge(1)], [edge(2)], [edge(0)], [edge(0)]]);
		} catch (e) {
			path = (e as CycleError).path;
		}
		expect(path).toHaveLength(4);
		expect(path[0]).toBe(path[3]);
		expect(new Set(path)).toEqual(new Set([0, 1, 2]));
	});
	it('keeps any graph without circles in order, however deep', () => {
		const graph = fc
			.integer({ min: 1, max: 40 })
			.chain((n) =>
				fc.tuple(
					...Array.from({ length: n }, (_, i) =>
						i === 0 ? fc.constant([] as number[]) : fc.array(fc.nat(i - 1), { maxLength: 4 })
					)
				)
			);
		fc.assert(
			fc.property(graph, (lists) => {
				const components = orderComponents(lists.map((l) => l.map((to) => edge(to))));
				const place = new Map(components.map((c, i) => [c.nodes[0], i]));
				return (
					components.length === lists.length &&
					lists.every((l, node) => l.every((to) => place.get(to)! < place.get(node)!))
				);
			})
		);
		const deep = Array.from({ length: 50_000 }, (_, i) => (i === 0 ? [] : [edge(i - 1)]));
		expect(orderComponents(deep)).toHaveLength(50_000);
	});
});

describe('cells', () => {
	it('tell blank from zero, and errors by name', () => {
		const m = newMatrix(2, 2);
		expect(m.marks).toBeNull();
		setCell(m, 1, 0, null);
		expect([cellAt(m, 0, 0), cellAt(m, 1, 0)]).toEqual([0, null]);
		setCell(m, 1, 0, 5);
		expect(cellAt(m, 1, 0)).toBe(5);
		expect(toCell(NaN, DIV0)).toBe('#DIV/0!');
		expect(toCell(Infinity, 0)).toBe('#NUM!');
		expect(toCell(0, NUM)).toBe('#NUM!');
	});
	it('are blanked by periods', () => {
		const m = newMatrix(2, 3);
		m.values.fill(7);
		blankPeriods(m, 0, 2);
		expect([0, 1, 2].map((t) => cellAt(m, 1, t))).toEqual([null, null, 7]);
		expect([...marksOf(m)]).toEqual([BLANK, BLANK, BLANK, BLANK, 0, 0]);
	});
});

describe('kernels', () => {
	const view = (values: number[], stride: number, step: 0 | 1, base = 0): View => ({
		values: Float64Array.from(values),
		marks: null,
		errors: false,
		base,
		stride,
		step,
		owner: null
	});
	const apply = (op: keyof typeof BINARY, a: View, b: View) => {
		const out = view(Array(6).fill(-1), 3, 1);
		const bad = BINARY[op](out, a, b, 3, 2);
		return { bad, values: [...out.values] };
	};
	const cells = view([1, 2, 3, 4, 5, 6], 3, 1);
	const byPeriod = view([10, 20], 1, 0);
	const scalar = view([2], 0, 0);
	it('take a value per cell, per period, or one for all', () => {
		expect(apply('+', cells, cells).values).toEqual([2, 4, 6, 8, 10, 12]);
		expect(apply('*', cells, byPeriod).values).toEqual([10, 20, 30, 80, 100, 120]);
		expect(apply('-', byPeriod, cells).values).toEqual([9, 8, 7, 16, 15, 14]);
		expect(apply('/', cells, scalar).values).toEqual([0.5, 1, 1.5, 2, 2.5, 3]);
		expect(apply('^', scalar, cells).values).toEqual([2, 4, 8, 16, 32, 64]);
		expect(apply('+', scalar, byPeriod).values).toEqual([12, 12, 12, 22, 22, 22]);
	});
	it('say when a divisor was 0 or a result is no number', () => {
		expect(apply('/', cells, cells).bad).toBe(false);
		expect(apply('/', cells, view([1, 0], 1, 0)).bad).toBe(true);
		expect(apply('ln', view([1, -1, 1, 1, 1, 1], 3, 1), scalar).bad).toBe(true);
	});
	it.each([
		[2.5, 0, 3],
		[-2.5, 0, -3],
		[1.005, 2, 1.01],
		[-1.005, 2, -1.01],
		[1234.5678, -2, 1200],
		[0.1 + 0.2, 10, 0.3],
		[1e21, 0, 1e21]
	])('round %d to %d digits is %d', (x, digits, expected) => {
		const out = view([0], 1, 1);
		BINARY.round(out, view([x], 1, 1), view([digits], 0, 0), 1, 1);
		expect(out.values[0]).toBe(expected);
	});
});
