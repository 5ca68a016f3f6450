/** The functions of the formula language: what they take and give, and one sentence each for help and completion. */

/** What an argument is: `name` is written out and not calculated. */
export type ParameterKind =
	'number' | 'date' | 'text' | 'any' | 'condition' | 'same' | 'periods' | 'name' | 'series';

export type FunctionGroup =
	| 'logic'
	| 'arithmetic'
	| 'time'
	| 'totals'
	| 'dates'
	| 'finance'
	| 'depreciation'
	| 'schedules'
	| 'references';

export interface FunctionInfo {
	name: string;
	group: FunctionGroup;
	min: number;
	max: number;
	signature: string;
	help: string;
	/**
	 * One kind an argument; the last one goes on for the rest. `same` arguments share one unit, and where there
	 * are any the result has it.
	 */
	parameters: readonly ParameterKind[];
	/** Unit or type of the result; `same` is that of the `same` arguments, `first` that of the first argument. */
	result: 'plain' | 'days' | 'months' | 'date' | 'same' | 'first' | 'quotient' | 'any';
	/** Whether it reads another period of its argument, or something that stands over time. */
	otherPeriods: boolean;
}

const UNLIMITED = 30;
type Row = [
	signature: string,
	parameters: string,
	result: FunctionInfo['result'],
	help: string,
	min?: number,
	max?: number
];

/**
 * Parameters in short: n number, d date, t text, a any, c condition, s same, p periods written out, k name, l series;
 * those after a `?` may be left out, a `+` at the end repeats the last.
 */
const KINDS: Record<string, ParameterKind> = {
	n: 'number',
	d: 'date',
	t: 'text',
	a: 'any',
	c: 'condition',
	s: 'same',
	p: 'periods',
	k: 'name',
	l: 'series'
};

const CATALOGUE: Record<FunctionGroup, Row[]> = {
	logic: [
		['if(condition, then, else)', 'cs?s', 'same', 'Chooses by a condition; 0 without else.'],
		['and(a, b, …)', 'c+', 'plain', '1 when all are true, else 0.'],
		['or(a, b, …)', 'c+', 'plain', '1 when any is true, else 0.'],
		['not(a)', 'c', 'plain', 'Turns true into false.'],
		['is_blank(x)', 'a', 'plain', '1 when nothing is there.'],
		['coalesce(x, otherwise)', 'ss', 'same', 'x, or the other where x is blank.']
	],
	arithmetic: [
		['min(a, b, …)', 's+', 'same', 'The smallest; blanks are left out.'],
		['max(a, b, …)', 's+', 'same', 'The largest; blanks are left out.'],
		['sum(a, b, …)', 's+', 'same', 'The sum; blanks are left out.'],
		['average(a, b, …)', 's+', 'same', 'The mean; blanks are not counted.'],
		['ratio(a, b, else)', 'nn?n', 'quotient', 'a ÷ b; blank, or else, when b is 0.'],
		['abs(x)', 's', 'same', 'The amount without its sign.'],
		['sign(x)', 'n', 'plain', '1, 0 or −1.'],
		['int(x)', 's', 'same', 'Rounds down to a whole number.'],
		['round(x, digits)', 's?n', 'same', 'Rounds half away from zero.'],
		['roundup(x, digits)', 's?n', 'same', 'Rounds away from zero.'],
		['rounddown(x, digits)', 's?n', 'same', 'Rounds towards zero.'],
		['trunc(x, digits)', 's?n', 'same', 'Cuts off after so many digits.'],
		['mround(x, multiple)', 's?n', 'same', 'Rounds to the nearest multiple.', 2],
		['ceiling(x, step)', 's?n', 'same', 'Rounds up to a multiple of the step.'],
		['floor(x, step)', 's?n', 'same', 'Rounds down to a multiple of the step.'],
		['mod(x, y)', 'ss', 'same', 'Remainder of x ÷ y, with the sign of y.'],
		['power(x, y)', 'nn', 'any', 'x to the power of y.'],
		['sqrt(x)', 'n', 'any', 'Square root.'],
		['exp(x)', 'n', 'plain', 'e to the power of x.'],
		['ln(x)', 'n', 'plain', 'Natural logarithm.'],
		['log(x, base)', 'n?n', 'plain', 'Logarithm, to base 10 unless said otherwise.']
	],
	time: [
		['lag(x, periods)', 's?p', 'same', 'x so many periods back.'],
		[
			'year_ago(x)',
			's',
			'same',
			'x in the same place of the year before: the same month, or the same number of a week; a 53rd week looks at the 52nd.'
		],
		['lead(x, periods)', 's?p', 'same', 'x so many periods ahead.'],
		['opening(x)', 's', 'same', 'x at the end of the period before.'],
		['ytd(x)', 's', 'same', 'Sum of x since the fiscal year began.'],
		['calendar_ytd(x)', 's', 'same', 'Sum of x since the calendar year began.'],
		['trailing(x, periods)', 'sp', 'same', 'Sum of x over the last periods, this one included.'],
		['to_date(x)', 's', 'same', 'Sum of x from the beginning of its life up to this period.'],
		['whole_life(x)', 's', 'same', 'Sum of x over its whole life, also outside the months shown.'],
		[
			'run_rate(x, periods)',
			'sp',
			'same',
			'Average of x over the last closed periods; the same in every open one.'
		],
		['period_start()', '', 'date', 'First day of the period.'],
		['period_end()', '', 'date', 'Last day of the period.'],
		['days_in_period()', '', 'days', 'Days in the period.'],
		[
			'months_in_period()',
			'',
			'months',
			'Months in the period: 1, in a quarter 3; of a week its share of them by days. An amount a month times this is that of the period.'
		]
	],
	totals: [
		[
			'total(x, dimension, …)',
			's?k+',
			'same',
			'x summed over the dimensions named, or over all; the same in every row it sums.'
		],
		[
			'share(x, dimension, …)',
			'n?k+',
			'plain',
			'x as a part of its total over the dimensions named, or over all.'
		],
		[
			'at(x, dimension, "member")',
			'skk',
			'same',
			'x at a member, or summed under it, whatever the row’s own.'
		],
		['scenario("code", x)', 'ks', 'same', 'x in another scenario.']
	],
	dates: [
		['date(year, month, day)', 'nnn', 'date', 'A day.'],
		['year(date)', 'd', 'plain', 'Year of a day.'],
		['month(date)', 'd', 'plain', 'Month of a day, 1 to 12.'],
		['day(date)', 'd', 'plain', 'Day of the month.'],
		['edate(date, months)', 'dn', 'date', 'The same day so many months later.'],
		['eomonth(date, months)', 'dn', 'date', 'Last day of the month so many months later.'],
		['days(end, start)', 'dd', 'days', 'Days from start to end.'],
		[
			'yearfrac(start, end, basis)',
			'dd?n',
			'plain',
			'Years between two days; basis 0 US 30/360, 1 actual/actual, 2 actual/360, 3 actual/365, 4 European 30/360.'
		]
	],
	finance: [
		['pmt(rate, periods, present, future, due)', 'nns?sn', 'same', 'Payment per period of an annuity.'],
		[
			'ipmt(rate, period, periods, present, future, due)',
			'nnns?sn',
			'same',
			'Interest in a payment of an annuity.'
		],
		[
			'ppmt(rate, period, periods, present, future, due)',
			'nnns?sn',
			'same',
			'Repayment in a payment of an annuity.'
		],
		['fv(rate, periods, payment, present, due)', 'nns?sn', 'same', 'Future value of an annuity.'],
		['pv(rate, periods, payment, future, due)', 'nns?sn', 'same', 'Present value of an annuity.'],
		['nper(rate, payment, present, future, due)', 'nss?sn', 'plain', 'Number of periods of an annuity.'],
		[
			'rate(periods, payment, present, future, due, guess)',
			'nss?snn',
			'plain',
			'Rate per period of an annuity.'
		],
		[
			'npv(rate, a, b, …)',
			'nl+',
			'same',
			'Present value of a row of amounts, the first one period from now; series(x) is a line in all its periods.'
		],
		['irr(a, b, …)', 'l+', 'plain', 'Rate at which a row of amounts has the present value 0.'],
		[
			'xnpv(rate, amounts, dates)',
			'nll',
			'same',
			'Present value of dated amounts, at the first of the dates.'
		],
		['xirr(amounts, dates)', 'll', 'plain', 'Yearly rate at which dated amounts have the present value 0.'],
		['series(x)', 'a', 'first', 'x in all periods, one after another; only in npv, irr, xnpv and xirr.']
	],
	depreciation: [
		['sln(cost, salvage, life)', 'ssn', 'same', 'Straight-line depreciation of one period.'],
		['syd(cost, salvage, life, period)', 'ssnn', 'same', 'Sum-of-years’-digits depreciation of one period.'],
		[
			'ddb(cost, salvage, life, period, factor)',
			'ssnn?n',
			'same',
			'Declining-balance depreciation of one period.'
		],
		[
			'db(cost, salvage, life, period, months)',
			'ssnn?n',
			'same',
			'Fixed-declining-balance depreciation of one period.'
		],
		[
			'vdb(cost, salvage, life, from, to, factor, no_switch)',
			'ssnnn?nc',
			'same',
			'Declining-balance depreciation between two times, switching to straight-line.'
		],
		[
			'depreciation("method", cost, salvage, months, in_service, "policy", factor, last, books_at, books)',
			'tssnd?tndds',
			'same',
			'The month’s depreciation of an asset: "straight-line", "sum-of-years", "declining" or "declining-switch"; from the "same-month", the "next-month" or by "half-month"; up to the month of a last day, and from what the books had charged by the end of a month.'
		]
	],
	schedules: [
		[
			'active(start, end)',
			'dd',
			'plain',
			'Share of the period’s days from start to end, both included; end may be none.'
		],
		[
			'renewing(start, end, uplift, last)',
			'dd?nd',
			'plain',
			'Share of the period’s days in a term that is renewed again and again, each time dearer by the uplift, up to a last day if there is one.'
		],
		[
			'instalments(start, end, "often", "due", uplift, last)',
			'ddtt?nd',
			'plain',
			'How many periods’ cost is paid in the period for such a term: "once", "monthly", "quarterly" or "yearly", "in advance" or "in arrears".'
		],
		['capped(x, cap)', 'ss', 'same', 'What of x falls under a cap on its sum in the calendar year.'],
		[
			'cohort(additions, curve, "after")',
			'sn?n+',
			'first',
			'Base built up from additions by a retention curve: a line by age, or shares written out; after its end "hold", "decay" or "zero".'
		]
	],
	references: [
		[
			'account("code")',
			'k',
			'any',
			'A planning account: in a model by department that of the row’s own, else all departments together; in a schedule also account(column), the one that stands in the row.'
		]
	]
};

/** What is not worked out from the row and its dates alone. */
const OTHER_PERIODS = new Set(['account', 'scenario', 'lag', 'lead', 'opening', 'year_ago']);

function info(group: FunctionGroup, [signature, short, result, help, least]: Row): FunctionInfo {
	const optional = short.indexOf('?');
	const repeated = short.endsWith('+');
	const letters = [...short].filter((c) => c in KINDS);
	const name = signature.slice(0, signature.indexOf('('));
	return {
		name,
		otherPeriods: OTHER_PERIODS.has(name),
		group,
		signature,
		help,
		result,
		parameters: letters.map((c) => KINDS[c]),
		min: least ?? (optional < 0 ? letters.length : optional),
		max: repeated ? UNLIMITED : letters.length
	};
}

export const FUNCTIONS: ReadonlyMap<string, FunctionInfo> = new Map(
	Object.entries(CATALOGUE)
		.flatMap(([group, rows]) => rows.map((row) => info(group as FunctionGroup, row)))
		.map((f) => [f.name, f])
);

/** The kind of the i-th argument of a function. */
export const parameterKind = (f: FunctionInfo, i: number): ParameterKind =>
	f.parameters[Math.min(i, f.parameters.length - 1)];
