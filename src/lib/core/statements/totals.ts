/**
 * Totals of accounts over departments, of any calculated plan: each is summed when it is first asked for, and kept until
 * a recalculation may have changed what it is made of.
 */
import type { Calendar, Period } from '../calendar/calendar';
import type { Account } from '../company/schema';
import { isBalance, signInParent } from '../company/sign';
import { axisCovering, type Axis } from '../engine/axis';
import type { Calculation } from '../engine/calculation';
import { meeting, retime, type Meeting } from '../engine/retime';
import { ACCOUNTS_BLOCK } from '../engine/spec';
import { BLANK, NUMBER, type Matrix } from '../engine/values';
import type { Plan } from '../scenario/plan';
import { severalCurrencies, currencyUnder, type Structure } from '../company/structure';
import type { Exchange } from '../currency/exchange';
import { isMoney } from '../currency/rates';
import { mixed, translated } from '../currency/translate';

/** One account's values period by period; marks as in the engine. They are read at once, and not written to. */
export interface AccountSeries {
	account: Account;
	/** Ordinal of the first period, and how many there are. */
	first: Period;
	periods: number;
	/** Where the first period stands among values and marks of others. */
	start: number;
	values: Float64Array;
	marks: Uint8Array;
	/** Whether some mark may be an error; a blank holds 0. */
	errors: boolean;
}

/** Accounts of a plan in departments, leaves and groups of both, in the periods of one calendar. */
export interface Totals {
	/**
	 * An account, in a department or, for null, in all of them. A group of accounts adds what is under it with the sign of
	 * type (profit = revenue − expense); statistics and rates under one heading differ in unit, so it adds none.
	 * @throws RangeError for an account or department that is not there
	 */
	of(account: string, department: string | null): AccountSeries;
}

/** In which currency totals are: each department's own, or the reporting one by these rates. */
export type TotalsIn = 'local' | Exchange;

type ByCurrency = Map<TotalsIn, Map<Calendar, Summed | Carried>>;
/** By calculation, and how it is added up. */
const kept = new WeakMap<Calculation, WeakMap<Structure, ByCurrency>>();

/**
 * @param calendar in whose periods; in others than the plan's by days, as each account rolls up over time
 * @param by in which currency: by the plan's own rates where nothing is said. In local ones amounts of departments in
 * several currencies have no sum, which is an error.
 */
export function totalsOf(
	plan: Plan,
	calendar: Calendar = plan.structure.calendar,
	by: TotalsIn = plan.exchange
): Totals {
	// In one currency it is all the same.
	const money = severalCurrencies(plan.structure) ? by : 'local';
	const structures = kept.get(plan.calculation) ?? new WeakMap<Structure, ByCurrency>();
	kept.set(plan.calculation, structures);
	const currencies: ByCurrency = structures.get(plan.structure) ?? new Map();
	structures.set(plan.structure, currencies);
	const all = currencies.get(money) ?? new Map<Calendar, Summed | Carried>();
	currencies.set(money, all);
	let totals = all.get(calendar);
	if (!totals) {
		const own = calendar === plan.structure.calendar;
		totals = own
			? new Summed(plan, money)
			: new Carried(
					totalsOf(plan, plan.structure.calendar, money) as Summed,
					plan.calculation.axis,
					axisCovering(calendar, plan.calculation.axis)
				);
		all.set(calendar, totals);
	}
	totals.refresh();
	return totals;
}

/** An account's totals: for each department a run of periods, and at which state of the account it was made. */
class Kept {
	readonly values: Float64Array;
	readonly marks: Uint8Array;
	/** Whether some mark may be an error. */
	errors = false;
	private readonly madeAt: Float64Array;
	private wholeAt = -1;
	private current = 0;
	/** How many departments have been made by themselves since it changed. */
	singles = 0;

	constructor(
		readonly account: Account,
		departments: number,
		private readonly periods: number
	) {
		this.values = new Float64Array(departments * periods);
		this.marks = new Uint8Array(departments * periods);
		this.madeAt = new Float64Array(departments).fill(-1);
	}
	/** Raised whenever what they are made of may have changed. */
	get revision(): number {
		return this.current;
	}
	set revision(revision: number) {
		if (revision === this.current) return;
		this.current = revision;
		this.singles = 0;
		this.errors = false;
	}
	isCurrent(department: number): boolean {
		return this.madeAt[department] === this.current;
	}
	made(from: number, to: number): void {
		this.madeAt.fill(this.current, from, to);
		if (from === 0 && to === this.madeAt.length) this.wholeAt = this.current;
	}
	get isWhole(): boolean {
		return this.wholeAt === this.current;
	}
	series(department: number, first: Period): AccountSeries {
		const { account, periods, values, marks, errors } = this;
		return { account, first, periods, start: department * periods, values, marks, errors };
	}
}

/** An account or heading, and at which state of what it is made of it was looked at last. */
interface Node {
	/** Accounts that it is calculated from; none for a heading. */
	leaves: readonly string[];
	children: readonly Node[];
	revision: number;
	/** Once somebody has asked for it. */
	kept: Kept | null;
}

/** In the plan's own periods. */
class Summed implements Totals {
	/** Rows of the leaf departments under each department: they stand one behind the other. The last is all of them. */
	private readonly lo: number[] = [];
	private readonly hi: number[] = [];
	private readonly places = new Map<string, number>();
	/** Where the leaf department of a row stands. */
	private readonly leafAt: Int32Array;
	/** Accounts and headings, those under one before it. */
	private readonly nodes: Node[] = [];
	private readonly nodeOf = new Map<string, Node>();
	private readonly axis: Axis;
	private seen = -1;

	private readonly calculation: Calculation;
	private readonly structure: Structure;
	/** Whether the departments under each plan in several currencies, which cannot be added up as they are. */
	private readonly mixed: boolean[] = [];

	constructor(
		private readonly plan: Plan,
		private readonly money: TotalsIn
	) {
		const { calculation, structure } = plan;
		this.calculation = calculation;
		this.structure = structure;
		this.axis = calculation.axis;
		const { departments, departmentRow, departmentRows } = structure;
		this.leafAt = new Int32Array(departmentRows.length);
		for (const { code } of departments.all) {
			const leaves = departments.leaves(code);
			this.places.set(code, this.lo.length);
			const first = departmentRow.get(leaves[0].code)!;
			if (departments.isLeaf(code)) this.leafAt[first] = this.lo.length;
			this.lo.push(first);
			this.hi.push(first + leaves.length);
			this.mixed.push(money === 'local' && currencyUnder(structure, code) === null);
		}
		this.mixed.push(money === 'local' && currencyUnder(structure, null) === null);
		this.lo.push(0);
		this.hi.push(departmentRows.length);
		for (const root of structure.accounts.roots) this.addNode(root);
	}

	get departments(): number {
		return this.lo.length;
	}
	/** @throws RangeError */
	placeOf(department: string | null): number {
		const place = department === null ? this.lo.length - 1 : this.places.get(department);
		if (place === undefined) throw new RangeError(`There is no department “${department}”.`);
		return place;
	}

	/** Takes note of what has been recalculated since. */
	refresh(): void {
		const { calculation, nodes } = this;
		if (this.seen === calculation.revision) return;
		this.seen = calculation.revision;
		for (const node of nodes) {
			let revision = 0;
			for (const leaf of node.leaves)
				revision = Math.max(revision, calculation.revisionOf(ACCOUNTS_BLOCK, leaf));
			for (const child of node.children) revision = Math.max(revision, child.revision);
			node.revision = revision;
			if (node.kept) node.kept.revision = revision;
		}
	}
	/** An account and all under it, those under it first. @returns itself */
	private addNode({ code }: Account): Node {
		const { accounts } = this.structure;
		const children = accounts.children(code).map((child) => this.addNode(child));
		const leaves = accounts.isLeaf(code) ? this.madeOf(code) : [];
		const node: Node = { leaves, children, revision: 0, kept: null };
		this.nodes.push(node);
		this.nodeOf.set(code, node);
		return node;
	}
	/** The translation difference is made of all balances. */
	private madeOf(code: string): string[] {
		const { accounts } = this.structure;
		return this.money !== 'local' && accounts.get(code)!.translation
			? accounts.all.filter((a) => accounts.isLeaf(a.code) && isBalance(a.type)).map((a) => a.code)
			: [code];
	}

	/** A leaf account's amounts by department, in the currency asked for. */
	private amounts(account: Account, revision: number): Matrix {
		const own = (code: string) => this.calculation.matrix(ACCOUNTS_BLOCK, code);
		if (this.money === 'local') return own(account.code);
		const have = this.translated.get(account.code);
		if (have?.revision === revision) return have.matrix;
		const { structure, axis, plan } = this;
		const { ledgerFirst } = plan;
		const matrix = translated(account, { structure, exchange: this.money, axis, ledgerFirst, own });
		this.translated.set(account.code, { revision, matrix });
		return matrix;
	}
	private readonly translated = new Map<string, { revision: number; matrix: Matrix }>();

	revisionOf(account: string): number {
		return this.accountOf(account).revision;
	}
	private accountOf(code: string): Kept {
		const node = this.nodeOf.get(code);
		if (!node) throw new RangeError(`There is no account “${code}”.`);
		if (!node.kept) {
			node.kept = new Kept(this.structure.accounts.get(code)!, this.departments, this.axis.length);
			node.kept.revision = node.revision;
		}
		return node.kept;
	}

	of(account: string, department: string | null): AccountSeries {
		const place = this.placeOf(department);
		return this.current(account, place).series(place, this.axis.first);
	}

	/** Totals of an account that stand for a department. Whoever asks for a few will ask for all: they are made at once. */
	private current(code: string, place: number): Kept {
		const own = this.accountOf(code);
		if (own.isCurrent(place)) return own;
		if (own.singles++ >= Math.min(MOST_SINGLES, this.departments >> 2)) return this.whole(code);
		this.make(own, place, place + 1);
		return own;
	}
	private whole(code: string): Kept {
		const own = this.accountOf(code);
		if (!own.isWhole) this.make(own, 0, this.departments);
		return own;
	}

	private make(own: Kept, from: number, to: number): void {
		const { code, type } = own.account;
		const { accounts } = this.structure;
		own.made(from, to);
		if (accounts.isLeaf(code)) {
			const matrix = this.amounts(own.account, own.revision);
			own.errors ||= matrix.errors;
			if (to - from > 1) copyRows(own, matrix, this.leafAt);
			for (let place = from; place < to; place++)
				if (to - from === 1 || this.leafAt[this.lo[place]] !== place)
					sumRows(own, place * matrix.periods, matrix, this.lo[place], this.hi[place]);
			if (isMoney(own.account))
				for (let place = from; place < to; place++)
					if (this.mixed[place]) {
						own.errors = true;
						mixed(own.values, own.marks, place * matrix.periods, (place + 1) * matrix.periods);
					}
			return;
		}
		const [start, end] = [from * this.axis.length, to * this.axis.length];
		own.values.fill(0, start, end);
		own.marks.fill(BLANK, start, end);
		if (type === 'statistical' || type === 'rate') return;
		for (const child of accounts.children(code)) {
			const part = to - from > 1 ? this.whole(child.code) : this.current(child.code, from);
			own.errors ||= part.errors;
			addTo(own, part, signInParent(child.type, type), start, end);
		}
	}
}

/** So many departments of an account are made one by one, at most a quarter of them, before all are made at once. */
const MOST_SINGLES = 32;

/** Rows summed period by period: blanks are skipped, the first error stands for all. */
function sumRows({ values, marks }: Kept, start: number, matrix: Matrix, lo: number, hi: number): void {
	const { rows, periods, values: from, marks: marked, errors } = matrix;
	for (let t = 0; t < periods; t++) {
		const end = t * rows + hi;
		let sum = 0;
		let mark = BLANK;
		if (marked === null) {
			for (let i = t * rows + lo; i < end; i++) sum += from[i];
			if (hi > lo) mark = NUMBER;
		} else if (!errors)
			for (let i = t * rows + lo; i < end; i++) {
				sum += from[i];
				mark &= marked[i];
			}
		else
			for (let i = t * rows + lo; i < end; i++) {
				const own = marked[i];
				if (own === BLANK) continue;
				mark = own;
				if (own !== NUMBER) break;
				sum += from[i];
			}
		values[start + t] = sum;
		marks[start + t] = mark;
	}
}
/** Rows as they are, each where its department stands. */
function copyRows({ values, marks }: Kept, matrix: Matrix, placeOf: Int32Array): void {
	const { rows, periods, values: from, marks: marked } = matrix;
	for (let t = 0; t < periods; t++) {
		const start = t * rows;
		for (let r = 0; r < rows; r++) {
			const at = placeOf[r] * periods + t;
			// As a sum of one is: never −0.
			values[at] = 0 + from[start + r];
			marks[at] = marked === null ? NUMBER : marked[start + r];
		}
	}
}
function addTo(to: Kept, part: Kept, sign: number, start: number, end: number): void {
	const { values, marks } = to;
	const { values: added, marks: marked } = part;
	if (!to.errors)
		for (let i = start; i < end; i++) {
			values[i] += sign * added[i];
			marks[i] &= marked[i];
		}
	else
		for (let i = start; i < end; i++) {
			if (marked[i] === BLANK || marks[i] > BLANK) continue;
			marks[i] = marked[i];
			values[i] += sign * added[i];
		}
}

/** In the periods of another calendar, carried there by days. */
class Carried implements Totals {
	private readonly met: Meeting;
	private readonly accounts = new Map<string, Kept>();

	constructor(
		private readonly summed: Summed,
		private readonly from: Axis,
		private readonly to: Axis
	) {
		this.met = meeting(from, to);
	}

	refresh(): void {
		this.summed.refresh();
		for (const [code, own] of this.accounts) own.revision = this.summed.revisionOf(code);
	}

	of(account: string, department: string | null): AccountSeries {
		const source = this.summed.of(account, department);
		let own = this.accounts.get(account);
		if (!own) {
			own = new Kept(source.account, this.summed.departments, this.to.length);
			own.revision = this.summed.revisionOf(account);
			this.accounts.set(account, own);
		}
		const place = this.summed.placeOf(department);
		const series = own.series(place, this.to.first);
		if (!own.isCurrent(place)) {
			const target = oneRow(series);
			const { rollup } = source.account;
			target.values.fill(0);
			target.marks!.fill(NUMBER);
			retime(target, oneRow(source), null, rollup, this.met, 0, 1, 0, this.to.length);
			own.made(place, place + 1);
		}
		return series;
	}
}

const oneRow = ({ values, marks, start, periods }: AccountSeries): Matrix => ({
	rows: 1,
	periods,
	values: values.subarray(start, start + periods),
	marks: marks.subarray(start, start + periods),
	errors: false
});
