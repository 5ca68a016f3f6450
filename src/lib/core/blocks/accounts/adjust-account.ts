/**
 * An account under adjustments. Whatever its plan comes from, what the steps make of it in order is, cell by cell, some
 * month of the plan × a factor + an extra amount: multiplying, adding and setting change the two, shifting moves all
 * three to another month. So adjustments can be switched by writing inputs, and the plan under them goes on working.
 */
import type { Axis } from '../../engine/axis';
import { ModelError, type BlockSpec, type LineSpec, type RuleSpec } from '../../engine/spec';
import { BLANK, marksOf, newMatrix, NUMBER, type Matrix } from '../../engine/values';
import type { Expr } from '../../formula/ast';
import { adjustInputs, type AdjustmentStep, type ScopedStep } from '../../inputs/adjust';
import type { AdjustedLine } from '../block';
import { call, num, plus, ref, times } from '../../formula/make';
import { basisLine } from './lines';

const part = (name: string, account: string, lag = 0) =>
	`${name}${lag > 0 ? `+${lag}` : lag < 0 ? lag : ''}:${account}`;
/** An adjusted account's plan before adjustments. */
export const planLine = (account: string) => part('plan', account);

/** What steps make of each cell: the plan so many periods back × factor + extra; without a factor the extra alone. */
interface Composed {
	lag: Matrix;
	factor: Matrix;
	extra: Matrix;
}

/** @param steps all that name the account, on or off: any of them can be switched later */
export function adjustedAccount(
	block: BlockSpec,
	line: LineSpec,
	axis: Axis,
	steps: readonly AdjustmentStep[]
): AdjustedLine {
	const { code } = line;
	const rows = block.rows.length;
	const lags = lagsOf(steps, axis.length - axis.open);
	const factors = lags.map((lag) => part('factor', code, lag));
	const extra = part('extra', code);
	const under = (list: readonly ScopedStep[]): Matrix[] | null => {
		const composed = compose(list, rows, axis.length);
		return picked(composed, lags);
	};
	const seeds = under([])!;
	const more = ref(extra);
	const fits = lags.reduceRight<Expr>((otherwise, lag, i) => {
		const plan = lag > 0 ? call('lag', ref(planLine(code)), num(lag)) : ref(part('plan', code, lag));
		const scaled = plus(times(plan, ref(factors[i])), more);
		// A blank has nothing to be multiplied.
		return call(
			'if',
			call('is_blank', ref(factors[i])),
			otherwise,
			call('if', call('is_blank', plan), more, scaled)
		);
	}, more);
	return {
		inputs: [...factors, extra],
		original: null,
		under,
		lines: [
			{ ...line, code: planLine(code), seed: { ...line.seed! } },
			...lags.filter((lag) => lag < 0).flatMap((lag) => ahead(block, line, lag)),
			...factors.map((f, i): LineSpec => ({ code: f, additive: false, seed: seeds[i] })),
			{ code: extra, additive: true, seed: seeds.at(-1)! },
			{ ...line, rules: [{ from: axis.open, expr: fits }] }
		]
	};
}

/** By how many periods the plan can have moved, whichever of the steps are on: within the open ones, 0 among them. */
function lagsOf(steps: readonly AdjustmentStep[], open: number): number[] {
	const found = new Set([0]);
	for (const step of steps) {
		if (step.operation !== 'shift') continue;
		for (const lag of [...found]) if (Math.abs(lag + step.periods) < open) found.add(lag + step.periods);
	}
	return [...found];
}

function compose(steps: readonly ScopedStep[], rows: number, periods: number): Composed {
	const [lag, factor, extra] = [0, 1, 2].map(() => newMatrix(rows, periods));
	factor.values.fill(1);
	marksOf(extra).fill(BLANK);
	for (const { step, rows: reached, from, to } of steps) {
		const on = (matrix: Matrix, own: AdjustmentStep = step) => adjustInputs(matrix, reached, from, to, own);
		if (step.operation !== 'add') on(factor, step.operation === 'set' ? nothing(step, to - from) : step);
		on(extra);
		if (step.operation !== 'shift') continue;
		on(lag);
		on(lag, { ...step, operation: 'add', value: step.periods });
	}
	return { lag, factor, extra };
}

/** A shift by all periods there are leaves nothing. */
const nothing = (step: AdjustmentStep, periods: number): AdjustmentStep => ({
	...step,
	operation: 'shift',
	periods
});

/** A factor for each lag, blank where the cell has another, and the extra amounts. */
function picked({ lag, factor, extra }: Composed, lags: readonly number[]): Matrix[] | null {
	const factors = lags.map(() => {
		const matrix = newMatrix(factor.rows, factor.periods);
		marksOf(matrix).fill(BLANK);
		return matrix;
	});
	for (let i = 0; i < factor.values.length; i++) {
		if (factor.marks?.[i] === BLANK) continue;
		const own = factors[lags.indexOf(lag.values[i])];
		if (!own) return null;
		own.values[i] = factor.values[i];
		own.marks![i] = NUMBER;
	}
	return [...factors, extra];
}

/**
 * The plan of a later month. A basis looks back, often at the account itself: it is moved together with what it looks
 * at, so that a month that is fetched from later on does not seem to need the future.
 */
function ahead(block: BlockSpec, line: LineSpec, lag: number): LineSpec[] {
	const basis = block.lines.find((l) => l.code === basisLine(line.code));
	const basisAhead = part('basis', line.code, lag);
	const moved = (rules: readonly RuleSpec[]) =>
		rules.map((r) => ({
			...r,
			expr: r.expr && shiftedBy(r.expr, lag, basis ? basis.code : null, basisAhead)
		}));
	return [
		...(basis ? [{ ...basis, code: basisAhead, rules: moved(basis.rules ?? []) }] : []),
		{ ...line, code: part('plan', line.code, lag), seed: undefined, rules: moved(line.rules ?? []) }
	];
}

/** x so many periods back; ahead where that is less than 0. */
const back = (x: Expr, periods: number): Expr =>
	periods === 0 ? x : call(periods > 0 ? 'lag' : 'lead', x, num(Math.abs(periods)));

/** A plan's formula as it is so many periods back. References to `basis` lead to the line that has been moved already. */
function shiftedBy(expr: Expr, lag: number, basis: string | null, moved: string): Expr {
	const inner = (e: Expr): Expr => shiftedBy(e, lag, basis, moved);
	switch (expr.kind) {
		case 'reference':
			return expr.line === basis && expr.block === null ? ref(moved) : back(expr, lag);
		case 'binary':
			return { ...expr, left: inner(expr.left), right: inner(expr.right) };
		case 'call': {
			const [x, n] = expr.args;
			if (expr.name === 'lag' && n.kind === 'number') return back(x, n.value + lag);
			if (expr.name === 'year_ago')
				return call('year_ago', x, num(lag + (n?.kind === 'number' ? n.value : 0)));
			// It is the same in every open month.
			if (expr.name === 'run_rate') return expr;
			return { ...expr, args: expr.args.map(inner) };
		}
		case 'number':
			return expr;
		default:
			throw new ModelError('', '', `A plan cannot be moved whose basis holds “${expr.kind}”.`);
	}
}
