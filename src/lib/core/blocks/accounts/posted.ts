/** What other blocks post to an account, as lines of the calculation, and what the account's plan is by it. */
import type { Account } from '../../company/schema';
import { isBalance } from '../../company/sign';
import type { Structure } from '../../company/structure';
import { exchangeFactors, type Exchange } from '../../currency/exchange';
import { isMoney } from '../../currency/rates';
import type { Axis } from '../../engine/axis';
import { scaledFactors, type Factors, type InflowSpec, type LineSpec } from '../../engine/spec';
import type { Expr } from '../../formula/ast';
import { call, minus, plus, ref } from '../../formula/make';
import type { Inflow, InflowKind } from '../block';

/** What flows in a period. */
const flowLine = (account: string) => `posted:${account}`;
/** Balances that stand on the account. */
const standingLine = (account: string) => `standing:${account}`;
/** Balances whose other side the account is: their change is posted to it. */
const changingLine = (account: string) => `changing:${account}`;
/** What has flowed since the plan opens, where balances stand on the account. */
export const movedLine = (account: string) => `moved:${account}`;

const LINES: Record<InflowKind, (account: string) => string> = {
	flow: flowLine,
	standing: standingLine,
	change: changingLine
};
const KINDS = Object.keys(LINES) as InflowKind[];
const some = (inflows: readonly Inflow[], kind: InflowKind) => inflows.some((f) => f.as === kind);

/** Whether balances stand on an account: it is them then, and nothing that the ledger held goes on. */
export const standsOn = (inflows: readonly Inflow[]): boolean => some(inflows, 'standing');

/** What comes about in a period; null where nothing flows. */
function flowOf({ code }: Account, inflows: readonly Inflow[]): Expr | null {
	const changing = ref(changingLine(code));
	const change = some(inflows, 'change') ? minus(changing, call('opening', changing)) : null;
	if (!some(inflows, 'flow')) return change;
	return change ? plus(ref(flowLine(code)), change) : ref(flowLine(code));
}

/**
 * An account's plan where something is posted to it: what flows in a period; of a balance what stands on it, or what stood
 * at the end of the period before and what flows.
 */
export function postedPlan(account: Account, inflows: readonly Inflow[]): Expr {
	const flow = flowOf(account, inflows);
	if (!isBalance(account.type)) return flow!;
	if (!standsOn(inflows)) return plus(call('opening', ref(account.code)), flow!);
	const standing = ref(standingLine(account.code));
	return flow ? plus(standing, ref(movedLine(account.code))) : standing;
}

/** The lines that the plan reads. */
export function postedLines(
	account: Account,
	inflows: readonly Inflow[],
	{ rowCurrency }: Structure,
	exchange: Exchange,
	axis: Axis
): LineSpec[] {
	const { code, rollup } = account;
	const lines = KINDS.filter((kind) => some(inflows, kind)).map((kind): LineSpec => ({
		code: LINES[kind](code),
		additive: true,
		overTime: kind === 'flow' ? rollup : 'last',
		// The first change is one from what stood before the plan opens.
		...(kind === 'change' ? { inflowsFrom: Math.max(0, axis.open - 1) } : {}),
		inflows: inflows
			.filter((f) => f.as === kind)
			.map((f): InflowSpec => ({
				block: f.block,
				line: f.line,
				index: f.index,
				factors: factorsOf(f, isMoney(account) ? rowCurrency : null, exchange)
			}))
	}));
	const flow = flowOf(account, inflows);
	if (!flow || !isBalance(account.type) || !standsOn(inflows)) return lines;
	const moved = movedLine(code);
	const expr = plus(call('opening', ref(moved)), flow);
	return [...lines, { code: moved, additive: true, overTime: 'last', rules: [{ expr, from: axis.open }] }];
}

/** What is posted arrives in the currency of the department that it is posted to, and with its sign. */
function factorsOf(
	{ index, currencies, as, sign }: Inflow,
	rowCurrency: readonly string[] | null,
	exchange: Exchange
): Factors | null {
	const exchanged =
		currencies && rowCurrency
			? exchangeFactors(
					exchange,
					currencies.length,
					(row) => (index[row] < 0 ? null : currencies[row]),
					(row) => rowCurrency[index[row]],
					as === 'flow' ? 'average' : 'closing'
				)
			: null;
	return sign === 1 ? exchanged : scaledFactors(exchanged, index.length, sign);
}
