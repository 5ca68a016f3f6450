/** The functions of the formula language: their arguments and one sentence each for help and completion. */
export interface FunctionInfo {
	name: string;
	min: number;
	max: number;
	signature: string;
	help: string;
	/** Index of the argument that must be a whole number written out. */
	constant?: number;
	/** The first argument is looked at in other periods. */
	overTime?: boolean;
}

const list: FunctionInfo[] = [
	{ name: 'if', min: 2, max: 3, signature: 'if(condition, then, else)', help: 'Chooses by a condition.' },
	{ name: 'and', min: 1, max: 30, signature: 'and(a, b, …)', help: '1 when all are true, else 0.' },
	{ name: 'or', min: 1, max: 30, signature: 'or(a, b, …)', help: '1 when any is true, else 0.' },
	{ name: 'not', min: 1, max: 1, signature: 'not(a)', help: 'Turns true into false.' },
	{ name: 'min', min: 1, max: 30, signature: 'min(a, b, …)', help: 'The smallest.' },
	{ name: 'max', min: 1, max: 30, signature: 'max(a, b, …)', help: 'The largest.' },
	{ name: 'sum', min: 1, max: 30, signature: 'sum(a, b, …)', help: 'The sum; blanks are skipped.' },
	{ name: 'abs', min: 1, max: 1, signature: 'abs(x)', help: 'The amount without its sign.' },
	{ name: 'int', min: 1, max: 1, signature: 'int(x)', help: 'Rounds down to a whole number.' },
	{ name: 'mod', min: 2, max: 2, signature: 'mod(x, y)', help: 'Remainder of x ÷ y, with the sign of y.' },
	{ name: 'power', min: 2, max: 2, signature: 'power(x, y)', help: 'x to the power of y.' },
	{ name: 'sqrt', min: 1, max: 1, signature: 'sqrt(x)', help: 'Square root.' },
	{ name: 'exp', min: 1, max: 1, signature: 'exp(x)', help: 'e to the power of x.' },
	{ name: 'ln', min: 1, max: 1, signature: 'ln(x)', help: 'Natural logarithm.' },
	{ name: 'round', min: 1, max: 2, signature: 'round(x, digits)', help: 'Rounds half away from zero.' },
	{ name: 'roundup', min: 1, max: 2, signature: 'roundup(x, digits)', help: 'Rounds away from zero.' },
	{ name: 'rounddown', min: 1, max: 2, signature: 'rounddown(x, digits)', help: 'Rounds towards zero.' },
	{
		name: 'ratio',
		min: 2,
		max: 3,
		signature: 'ratio(a, b, else)',
		help: 'a ÷ b; blank, or else, when b is 0.'
	},
	{ name: 'is_blank', min: 1, max: 1, signature: 'is_blank(x)', help: '1 when nothing is there.' },
	{
		name: 'lag',
		min: 1,
		max: 2,
		signature: 'lag(x, periods)',
		help: 'x so many periods back; lag(x, 12) is the same month last year.',
		constant: 1,
		overTime: true
	},
	{
		name: 'opening',
		min: 1,
		max: 1,
		signature: 'opening(x)',
		help: 'x at the end of the period before.',
		overTime: true
	},
	{
		name: 'ytd',
		min: 1,
		max: 1,
		signature: 'ytd(x)',
		help: 'Sum of x since the fiscal year began.',
		overTime: true
	},
	{
		name: 'trailing',
		min: 2,
		max: 2,
		signature: 'trailing(x, periods)',
		help: 'Sum of x over the last periods, this one included.',
		constant: 1,
		overTime: true
	},
	{
		name: 'run_rate',
		min: 2,
		max: 2,
		signature: 'run_rate(x, periods)',
		help: 'Average of x over the last closed periods; the same in every open one.',
		constant: 1,
		overTime: true
	},
	{
		name: 'account',
		min: 1,
		max: 1,
		signature: 'account("code")',
		help: 'A planning account, all departments together.'
	}
];

export const FUNCTIONS: ReadonlyMap<string, FunctionInfo> = new Map(list.map((f) => [f.name, f]));
