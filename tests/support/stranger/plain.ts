/**
 * A company calculated as plainly as can be: every figure worked out by itself from what the manual says, one month of one
 * row of one line, remembered once known. Shares no code with the application; slow, and meant to be read.
 */
import type { CompanyData } from '../../../src/lib/server/company/subjects';
import { plainCalendar, type PlainCalendar } from './calendar';
import type { ScenarioRecord } from '../../../src/lib/server/company/subjects/scenarios';

/** A figure; null is blank. */
export type Figure = number | null;
type Definition = ScenarioRecord['definitions'][number];
type Line = Definition['lines'][number];

const zero = (x: Figure) => x ?? 0;
export class PlainCompany {
	private readonly known = new Map<string, Figure>();
	private readonly leaves: string[];
	private readonly calendar: PlainCalendar;

	constructor(private readonly data: CompanyData) {
		this.leaves = this.leavesOf('all');
		this.calendar = plainCalendar(data.company.calendar);
	}

	leavesOf(department: string): string[] {
		const children = this.data.departments.filter((d) => d.parent === department);
		return children.length ? children.flatMap((c) => this.leavesOf(c.code)) : [department];
	}

	private scenario(code: string): ScenarioRecord {
		return this.data.scenarios.find((s) => s.scenario.code === code)!;
	}
	/** Months at or before it are actual. */
	private through({ scenario }: ScenarioRecord): number {
		return scenario.actualsThrough ?? scenario.first - 1;
	}
	/** The first month that is this scenario's own plan. */
	open(code: string): number {
		const s = this.scenario(code);
		return Math.max(s.scenario.first, this.through(s) + 1);
	}
	/** The first month that formulas can look back to. */
	begin(code: string): number {
		const months = this.data.entries.map((e) => e.period);
		return Math.min(...months, this.calendar.ago(this.scenario(code).scenario.first));
	}

	// --- Accounts ---------------------------------------------------------------------------------------------

	private typeOf(account: string) {
		return this.data.accounts.find((a) => a.code === account)!.type;
	}

	/** What the ledger holds on an account, natural amount; a balance carries on from month to month. */
	actual(account: string, department: string, p: number): Figure {
		const own = new Set(this.data.ledgerAccounts.filter((l) => l.account === account).map((l) => l.code));
		const balance = this.typeOf(account) === 'asset';
		const sign = this.typeOf(account) === 'revenue' ? -1 : 1;
		const entries = this.data.entries.filter(
			(e) =>
				own.has(e.ledgerAccount) && e.department === department && (balance ? e.period <= p : e.period === p)
		);
		const last = Math.max(...this.data.entries.map((e) => e.period));
		if (!entries.length || p > last) return null;
		return entries.reduce((sum, e) => sum + sign * e.amount, 0);
	}

	/** An account of a department in a month. */
	account(code: string, account: string, department: string, p: number): Figure {
		return this.remembered(`${code}/ledger/${account}/${department}/${p}`, () => {
			const s = this.scenario(code);
			if (p < this.begin(code) || p > s.scenario.last) return null;
			if (p < this.open(code)) {
				if (p <= this.through(s)) return this.actual(account, department, p);
				return s.scenario.follows ? this.account(s.scenario.follows, account, department, p) : null;
			}
			if (this.typeOf(account) === 'asset') return null;
			const steps = this.stepsOn(s, 'accounts', account);
			return this.adjusted(
				code,
				steps,
				p,
				(where) => this.lies(department, where),
				(month) => this.plan(s, account, department, month)
			);
		});
	}

	/** An account's plan before adjustments: typed, else posted, else by its basis. */
	private plan(s: ScenarioRecord, account: string, department: string, p: number): Figure {
		const typed = typedIn(s, 'accounts', account, department, p);
		if (typed !== null) return typed;
		const { code } = s.scenario;
		const posted = this.postedTo(s, account, department);
		if (posted.length)
			return posted.reduce((sum, r) => sum + zero(this.line(code, r.model, r.line, r.row, p)), 0);
		const basis = s.bases.find((b) => b.account === account && b.department === department)?.basis;
		switch (basis?.kind) {
			case 'last-year':
				return zero(this.account(code, account, department, this.calendar.ago(p))) * (1 + basis.percent);
			case 'percent-of':
				return zero(this.account(code, basis.account, department, p)) * basis.percent;
			case 'run-rate': {
				const months = Array.from({ length: basis.months }, (_, i) => this.open(code) - 1 - i);
				return mean(months.map((m) => this.account(code, account, department, m)));
			}
			case 'driver': {
				const [model, line] = basis.driver.split('.');
				return zero(this.reference(s, model, line, { department }, p)) * basis.rate;
			}
			default:
				return null;
		}
	}

	/** Rows of models that post to an account of a department. */
	private postedTo(s: ScenarioRecord, account: string, department: string) {
		return s.definitions.flatMap((d) =>
			d.postings.flatMap((posting) =>
				this.rows(d).flatMap((row) => {
					const at = (target: typeof posting.account) => {
						if ('code' in target) return target.code;
						const [dimension, attribute] = target.attribute.split('.');
						const member = row[d.dimensions.indexOf(dimension)];
						return attribute === 'code' ? member : this.attribute(dimension, member, attribute);
					};
					return at(posting.account) === account && at(posting.department) === department
						? [{ model: d.code, line: posting.line, row }]
						: [];
				})
			)
		);
	}

	private attribute(dimension: string, member: string, attribute: string): string | undefined {
		const { members } = this.data.dimensions.find((d) => d.code === dimension)!;
		for (let m = members.find((x) => x.code === member); m; m = members.find((x) => x.code === m!.parent))
			if (m.attributes[attribute]) return m.attributes[attribute];
		return undefined;
	}

	// --- Adjustments ------------------------------------------------------------------------------------------

	private stepsOn({ adjustments }: ScenarioRecord, block: string, line: string) {
		return adjustments
			.filter((a) => a.on && a.adopted === null)
			.flatMap((a) => a.steps)
			.filter((step) => step.lines.some((l) => l.block === block && l.line === line));
	}

	/** A value under steps, one after the other; a shifted month takes what the steps before made of another one. */
	private adjusted(
		code: string,
		steps: ReturnType<PlainCompany['stepsOn']>,
		p: number,
		inRows: (where: Record<string, string>) => boolean,
		before: (p: number) => Figure
	): Figure {
		const { last } = this.scenario(code).scenario;
		const after = (n: number, month: number): Figure => {
			if (n === 0) return before(month);
			const step = steps[n - 1];
			const from = Math.max(this.open(code), step.from ? this.calendar.of(step.from) : -Infinity);
			const to = Math.min(last, step.to ? this.calendar.of(step.to) : Infinity);
			if (month < from || month > to || !inRows(step.where)) return after(n - 1, month);
			if (step.operation === 'shift') {
				const source = month - step.periods;
				return source < from || source > to ? null : after(n - 1, source);
			}
			if (step.operation === 'set') return Number(step.value);
			const was = after(n - 1, month);
			if (step.operation === 'add') return zero(was) + step.value;
			return was === null ? null : was * step.value;
		};
		return after(steps.length, p);
	}

	/** Whether a department lies under those that a scope names; accounts have no other dimension. */
	private lies(department: string, where: Record<string, string>): boolean {
		return Object.entries(where).every(
			([dimension, under]) => dimension === 'department' && this.isUnder('department', department, under)
		);
	}
	isUnder(dimension: string, member: string, under: string): boolean {
		const items: { code: string; parent: string | null }[] =
			dimension === 'department'
				? this.data.departments
				: this.data.dimensions.find((d) => d.code === dimension)!.members;
		for (let m = items.find((x) => x.code === member); m; m = items.find((x) => x.code === m!.parent))
			if (m.code === under) return true;
		return false;
	}

	// --- Driver models ----------------------------------------------------------------------------------------

	rows(d: Definition): string[][] {
		return d.dimensions.length ? this.data.models.find((m) => m.definition.code === d.code)!.rows : [[]];
	}
	private definition(s: ScenarioRecord, model: string): Definition {
		return s.definitions.find((d) => d.code === model)!;
	}

	/** A line of a model in one row and month. */
	line(code: string, model: string, lineCode: string, row: readonly string[], p: number): Figure {
		return this.remembered(`${code}/${model}/${lineCode}/${row.join('|')}/${p}`, () => {
			const s = this.scenario(code);
			const d = this.definition(s, model);
			const line = d.lines.find((l) => l.code === lineCode)!;
			if (p < this.begin(code) || p > s.scenario.last) return null;
			const closed = p < this.open(code);
			if (closed && line.closed !== 'keep') {
				if (line.actual !== undefined) return this.formula(s, d, line.actual, row, p);
				return line.closed === 'actuals' ? this.derived(s, d, line, row, p) : null;
			}
			const scope = closed && line.closed !== 'keep' ? undefined : this.scopeAt(d, line, row, p);
			const formula = scope ? scope.formula : line.formula;
			if (formula !== undefined) return this.formula(s, d, formula, row, p);
			const inRows = (where: Record<string, string>) =>
				Object.entries(where).every(
					([dimension, under]) =>
						d.dimensions.includes(dimension) &&
						this.isUnder(dimension, row[d.dimensions.indexOf(dimension)], under)
				);
			return this.adjusted(code, this.stepsOn(s, model, lineCode), p, inRows, (m) =>
				typedIn(s, model, lineCode, row.join('|'), m)
			);
		});
	}

	private scopeAt(d: Definition, line: Line, row: readonly string[], p: number) {
		return line.scoped?.find(
			(s) =>
				(!s.from || p >= this.calendar.of(s.from)) &&
				(!s.to || p <= this.calendar.of(s.to)) &&
				Object.entries(s.where).every(([dimension, under]) =>
					this.isUnder(dimension, row[d.dimensions.indexOf(dimension)], under)
				)
		);
	}

	/** Closed months of a line that shows actuals: entries on the account it posts to that are tagged with its members. */
	private derived(s: ScenarioRecord, d: Definition, line: Line, row: readonly string[], p: number): Figure {
		if (p > this.through(s))
			return s.scenario.follows ? this.line(s.scenario.follows, d.code, line.code, row, p) : null;
		const posting = d.postings.find((x) => x.line === line.code)!;
		const product = row[d.dimensions.indexOf('product')];
		const account =
			'code' in posting.account ? posting.account.code : this.attribute('product', product, 'into')!;
		const own = new Set(this.data.ledgerAccounts.filter((l) => l.account === account).map((l) => l.code));
		const sign = this.typeOf(account) === 'revenue' ? -1 : 1;
		const entries = this.data.entries.filter(
			(e) =>
				e.period === p &&
				own.has(e.ledgerAccount) &&
				d.dimensions.every((dim, i) => (dim === 'department' ? e.department : e.tags[dim]) === row[i])
		);
		return entries.length ? entries.reduce((sum, e) => sum + sign * e.amount, 0) : null;
	}

	/** A line of some model as rows with these members see it: their own row, or the sum over what they lack. */
	private reference(
		s: ScenarioRecord,
		model: string,
		line: string,
		members: Readonly<Record<string, string>>,
		p: number
	): Figure {
		const d = this.definition(s, model);
		const shared = d.dimensions.filter((dim) => dim in members);
		const rows = this.rows(d).filter((row) =>
			shared.every((dim) => row[d.dimensions.indexOf(dim)] === members[dim])
		);
		const values = rows.map((row) => this.line(s.scenario.code, model, line, row, p));
		if (shared.length === d.dimensions.length) return values[0] ?? null;
		// What is summed is a number, unless there is no row to sum.
		return rows.length ? values.reduce<number>((sum, v) => sum + zero(v), 0) : null;
	}

	/** The formulas of the strangers' models, each written out again. */
	private formula(s: ScenarioRecord, d: Definition, text: string, row: readonly string[], p: number): Figure {
		const { code } = s.scenario;
		const own = (line: string, when = p) => this.line(code, d.code, line, row, when);
		const members = Object.fromEntries(d.dimensions.map((dim, i) => [dim, row[i]]));
		const other = (model: string, line: string) => this.reference(s, model, line, members, p);
		switch (text) {
			case 'if(is_blank(opening(grown)), 1, opening(grown)) * (1 + index / 100)':
				return (own('grown', p - 1) ?? 1) * (1 + zero(own('index')) / 100);
			case 'units * price * base.grown':
				return zero(own('units')) * zero(own('price')) * zero(other('base', 'grown'));
			case 'units * price * 2 - 7':
				return zero(own('units')) * zero(own('price')) * 2 - 7;
			case 'ratio(income, units)':
				return ratio(own('income'), own('units'));
			case 'ratio(income, level)':
				return ratio(own('income'), own('level'));
			case 'share(units, product)': {
				const at = d.dimensions.indexOf('product');
				const rows = this.rows(d).filter((r) => r.every((m, i) => i === at || m === row[i]));
				return ratio(
					own('units'),
					rows.reduce((sum, r) => sum + zero(this.line(code, d.code, 'units', r, p)), 0)
				);
			}
			case 'year_ago(units) + lag(income, 1)':
				return zero(own('units', this.calendar.ago(p))) + zero(own('income', p - 1));
			case 'heads * (100 + base.index) + trade.units / 10':
				return zero(own('heads')) * (100 + zero(other('base', 'index'))) + zero(other('trade', 'units')) / 10;
			case 'total(account("c1"), department)':
				return this.leaves.reduce((sum, dep) => sum + zero(this.account(code, 'c1', dep, p)), 0);
			case 'opening(stock) + heads - lag(heads, 3)':
				return zero(own('stock', p - 1)) + zero(own('heads')) - zero(own('heads', p - 3));
			default:
				throw new Error(`No plain form of ${text}.`);
		}
	}

	// --- Totals -----------------------------------------------------------------------------------------------

	/** Rows and months of a line together: members first within a month, then months; by formula from totals of others. */
	lineTotal(
		code: string,
		model: string,
		lineCode: string,
		rows: readonly string[][],
		from: number,
		to: number
	): Figure {
		const d = this.definition(this.scenario(code), model);
		const { rollup } = d.lines.find((l) => l.code === lineCode)!;
		const months = Array.from({ length: to - from + 1 }, (_, i) => from + i);
		if (rollup.members === 'formula')
			return ratio(
				this.lineTotal(code, model, 'income', rows, from, to),
				this.lineTotal(code, model, 'units', rows, from, to)
			);
		const value = (row: string[], p: number, line = lineCode) => this.line(code, model, line, row, p);
		const weighted = rollup.members.startsWith('weighted:');
		const cells = (p: number) =>
			rows.map((row) => ({ v: value(row, p), w: weighted ? zero(value(row, p, 'units')) : 1 }));
		const heavy = (list: { v: Figure; w: number }[]) => {
			const held = list.filter((c) => c.v !== null);
			const mass = held.reduce((sum, c) => sum + c.w, 0);
			return mass === 0 ? null : held.reduce((sum, c) => sum + c.v! * c.w, 0) / mass;
		};
		if (weighted && rollup.time === 'formula') return heavy(months.flatMap(cells));
		const monthly = months.map((p): Figure => {
			const values = cells(p).map((c) => c.v);
			if (weighted && rows.length > 1) return heavy(cells(p));
			return rollup.members === 'average' ? mean(values) : sum(values);
		});
		if (rollup.time === 'last') return monthly.at(-1)!;
		return rollup.time === 'average' ? mean(monthly) : sum(monthly);
	}

	/** An account of the tree over departments and months. */
	accountTotal(code: string, account: string, department: string, from: number, to: number): Figure {
		const months = Array.from({ length: to - from + 1 }, (_, i) => from + i);
		const own = this.data.accounts.find((a) => a.code === account)!;
		const inMonth = (of: typeof own, p: number): Figure => {
			const children = this.data.accounts.filter((a) => a.parent === of.code);
			if (!children.length)
				return sum(this.leavesOf(department).map((d) => this.account(code, of.code, d, p)));
			if (of.type === 'statistical') return null;
			const parts = children.map((c) => {
				const part = inMonth(c, p);
				return part === null ? null : of.type === 'revenue' && c.type === 'expense' ? -part : part;
			});
			return sum(parts);
		};
		const monthly = months.map((p) => inMonth(own, p));
		if (own.rollup === 'average') return mean(monthly);
		// A balance stands at its last month that is known.
		if (own.rollup === 'last') return monthly.filter((v) => v !== null).at(-1) ?? null;
		return sum(monthly);
	}

	private remembered(key: string, work: () => Figure): Figure {
		if (!this.known.has(key)) this.known.set(key, work());
		return this.known.get(key)!;
	}
}

function typedIn({ series }: ScenarioRecord, block: string, line: string, row: string, p: number): Figure {
	const own = series.find((s) => s.block === block && s.line === line && s.row === row);
	const v = own?.values[p - own.first];
	return v === undefined || Number.isNaN(v) ? null : v;
}

const numbers = (list: readonly Figure[]) => list.filter((v): v is number => v !== null);
function sum(list: readonly Figure[]): Figure {
	const held = numbers(list);
	return held.length ? held.reduce((a, b) => a + b, 0) : null;
}
function mean(list: readonly Figure[]): Figure {
	const held = numbers(list);
	return held.length ? held.reduce((a, b) => a + b, 0) / held.length : null;
}
const ratio = (a: Figure, b: Figure): Figure => (zero(b) === 0 ? null : zero(a) / zero(b));

/** A scenario carried on after a month is closed, by the manual: only months after its former last one are new. */
export function carriedOn(
	from: ScenarioRecord,
	closed: number,
	accounts: 'year-ago' | 'last' | 'blank',
	code: string,
	{ ago }: PlainCalendar
): ScenarioRecord {
	// It reaches a year beyond what is closed: to before where the year after has the same place.
	let year = closed + 1;
	while (ago(year + 1) <= closed) year++;
	const last = Math.max(from.scenario.last, year);
	const series = from.series.map((s) => {
		const method =
			s.block === 'accounts'
				? accounts
				: from.definitions.find((d) => d.code === s.block)!.lines.find((l) => l.code === s.line)!.extend;
		const value = (p: number): number => {
			if (p <= from.scenario.last) return s.values[p - s.first] ?? NaN;
			if (method === 'blank') return NaN;
			return value(method === 'last' ? from.scenario.last : ago(p));
		};
		return { ...s, values: Float64Array.from({ length: last - s.first + 1 }, (_, i) => value(s.first + i)) };
	});
	return {
		...from,
		scenario: { ...from.scenario, code, name: code, kind: 'forecast', last, actualsThrough: closed },
		series
	};
}
