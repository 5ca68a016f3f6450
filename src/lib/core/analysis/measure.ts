/** One figure of a calculated plan that what-ifs watch. */
import type { Span } from '../calendar/spans';
import { moneyView, ratesIn, type MoneyView } from '../currency/view';
import { axisCovering } from '../engine/axis';
import { carried } from '../engine/carried';
import { rollUp } from '../engine/rollup';
import { cellAt, ERROR_TEXT, MIXED, type Cell } from '../engine/values';
import { companyCalendar } from '../scenario/calendar';
import { currenciesIn } from '../scenario/mixed';
import type { Plan } from '../scenario/plan';
import { overTime } from '../statements/statement';
import { totalsOf } from '../statements/totals';
import { rollupLines } from '../views/model-view';

/** An account of a department and all under it, or a line of a driver model over all its rows. */
export type Measure =
	/** In the department's own currency where nothing is said, or the reporting one where there are several. */
	| { kind: 'account'; account: string; department: string; money?: MoneyView }
	| { kind: 'line'; model: string; line: string };

/** One figure of a calculated plan; NaN for an error. */
export const measured = (plan: Plan, measure: Measure, span: Span): number =>
	number(measureOver(plan, measure, [span])[0]);

/** One cell a span; null for what is not there. */
export function measureOver(plan: Plan, measure: Measure, spans: readonly Span[]): Cell[] {
	if (measure.kind === 'line') return spans.map((s) => lineTotal(plan, measure.model, measure.line, s));
	const { account, department } = measure;
	if (!plan.structure.accounts.get(account)) return spans.map(() => null);
	const money = moneyView(plan.structure, department, measure.money ?? null);
	const own = totalsOf(plan, companyOf(plan), ratesIn(plan, money)).of(account, department);
	return spans.map(({ from, to }) => overTime(own, from, to));
}

/** Nothing counts as 0 in a difference; an error is no number. */
export const number = (cell: Cell): number => (typeof cell === 'string' ? NaN : (cell ?? 0));

/** In whose periods spans are named, also where the plan’s later years are coarser. */
const companyOf = (plan: Plan) => companyCalendar(plan.structure.calendar);

/** A line over all of its rows and a span, rolled up in its own way. */
function lineTotal(plan: Plan, model: string, line: string, { from, to }: Span): Cell {
	const own = plan.models.get(model);
	if (!own || !plan.calculation.has(model, line)) return null;
	const axis = axisCovering(companyOf(plan), plan.calculation.axis);
	const rows = new Int32Array(plan.calculation.block(model).rows.length);
	const periods = Int32Array.from({ length: axis.length }, (_, t) =>
		axis.first + t >= from && axis.first + t <= to ? 0 : -1
	);
	const rolled = rollUp((l) => carried(plan.calculation, model, l, axis), rollupLines(own.definition), {
		rows,
		groups: 1,
		periods,
		buckets: 1
	});
	const all = [...rows.keys()];
	return currenciesIn(plan, model)(line, all) ? ERROR_TEXT[MIXED] : cellAt(rolled.get(line)!, 0, 0);
}
