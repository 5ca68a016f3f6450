/** The chart of accounts, changed in the open: added to, renamed, moved, taken out; all scenarios follow, or nothing happens. */
import { z } from 'zod';
import { chartFaults, resummed } from '../../core/company/chart';
import { codeFor } from '../../core/company/code';
import { moved } from '../../core/company/move';
import { cashFlows } from '../../core/company/cash-flow';
import { AccountType, CashFlow, NumberFormat, TimeRollup, type Account } from '../../core/company/schema';
import { isBalance } from '../../core/company/sign';
import { buildTree } from '../../core/company/tree';
import type { ChartRow, MovedFigures } from '../../core/views/chart-row';
import { totalsOf } from '../../core/statements/totals';
import { note, noteCompany } from '../company/journal';
import { companyFor, companyState, touchCompany } from '../company/structure';
import { accountToRow } from '../company/subjects/accounts';
import { asOne, type Context, type Within } from '../platform/context';
import * as stored from '../platform/db/stored';
import { notFound, Refusal } from '../platform/refusal';
import type { Plan } from '../../core/scenario/plan';
import { planOf } from '../scenarios/plans';
import { listScenarios, namedFor, visibleScenarios } from '../scenarios/scenarios';
import type { ListedScenario } from '../company/subjects/scenarios';
import { comparable, differ, isFigure, movedIn, ownMonths } from './figures';
import {
	inPlace,
	Label,
	linesOf,
	mustBeAsSeen,
	mustHold,
	notedCells,
	putTree,
	readCells,
	trying,
	TypedText
} from './tree';

export const NewAccounts = z.strictObject({
	/** The heading that they lie under; null is the top. */
	parent: z.string().max(64).nullable(),
	/** One a line, indented under another; a code may stand before a name. */
	outline: z.string().min(1, 'no account is named').max(300_000),
	/** What they are, where the heading does not tell. */
	type: AccountType.optional(),
	/** Shows what would be, and changes nothing. */
	dry: z.boolean().default(false)
});
export const AccountChange = z.strictObject({
	name: Label.optional(),
	parent: z.string().max(64).nullable().optional(),
	/** The account of the same heading that it stands before; null is the last place. */
	before: z.string().max(64).nullable().optional(),
	type: AccountType.optional(),
	rollup: TimeRollup.optional(),
	format: NumberFormat.optional(),
	/** Where it stands in the cash flow; null: as its heading. */
	cashFlow: CashFlow.nullable().optional(),
	/** Translation differences stand in it; the account where they did does so no more. */
	translation: z.boolean().optional(),
	dry: z.boolean().default(false)
});

/** What can be typed of many accounts at once. */
const AccountColumn = AccountChange.pick({
	name: true,
	type: true,
	rollup: true,
	format: true,
	cashFlow: true
}).keyof();
export const AccountCells = z.strictObject({
	cells: z
		.array(
			z.strictObject({
				account: z.string().max(64),
				column: AccountColumn,
				/** What the writer saw there. */
				before: TypedText,
				value: TypedText
			})
		)
		.min(1)
		.max(50_000),
	/** Says what would move, and changes nothing. */
	dry: z.boolean().default(false)
});
export async function readChartOf(context: Context): Promise<ChartRow[]> {
	const { structure, ledgerAccounts } = await companyFor(context, 'change accounts');
	const { accounts } = structure;
	const folded = new Map<string, number>();
	for (const { account } of ledgerAccounts)
		if (account !== null) folded.set(account, (folded.get(account) ?? 0) + 1);
	const { db } = context;
	const holding = new Set([
		...folded.keys(),
		...(await stored.texts(db('series').where({ block: 'accounts' }).distinct().pluck('line'))),
		...(await stored.texts(db('basis').distinct().pluck('account')))
	]);
	const flows = cashFlows(accounts);
	return accounts.all.map((a) => ({
		...a,
		flow: flows.get(a.code)!,
		depth: accounts.depth(a.code),
		leaf: accounts.isLeaf(a.code),
		holds: accounts.isLeaf(a.code) && holding.has(a.code),
		ledger: folded.get(a.code) ?? 0
	}));
}

/** A code before a name, as “6480 Maintenance”; it has a figure in it. */
const CODED = /^((?=\S*\d)[A-Za-z0-9][A-Za-z0-9._-]{0,63})\s+(\S.*)$/;

/**
 * Adds accounts under a heading, from an outline.
 * @returns those added, in their order
 * @throws Refusal 409 for a code that is there, 422 with each line that cannot be taken, or a heading that takes figures
 */
export async function addAccounts(
	context: Context,
	{ parent, outline, type, dry }: z.output<typeof NewAccounts>
): Promise<Account[]> {
	return trying(context, dry, async (within) => {
		const { structure } = await companyFor(within, 'change accounts');
		const { accounts } = structure;
		const heading = parent === null ? undefined : accounts.get(parent);
		if (parent !== null && !heading) throw notFound(`The account “${parent}”`);
		if (heading && accounts.isLeaf(heading.code)) await mustHoldNothing(within, heading, 'become a heading');
		const items = linesOf(outline, 'account');
		const made = accountsFrom(items, heading, accounts.all, type);
		// Behind what the heading holds already.
		const list = [...accounts.all];
		const last = parent === null ? undefined : accounts.subtree(parent).at(-1);
		list.splice(last ? list.indexOf(last) + 1 : list.length, 0, ...made);
		await putChart(within, list);
		if (heading && accounts.isLeaf(heading.code)) await mustHold(within);
		for (const a of made) await journal(within, a.code, null, a);
		return made;
	});
}

function accountsFrom(
	items: readonly { code: string; name: string; parent: string | null }[],
	heading: Account | undefined,
	present: readonly Account[],
	given: AccountType | undefined
): Account[] {
	const taken = new Set(present.map((a) => a.code));
	const type = given ?? heading?.type;
	if (type === undefined)
		throw new Refusal(422, 'Say what these accounts are: there is no heading that tells.', [
			{ column: 'type', message: 'is missing' }
		]);
	const codes = new Map<string, string>();
	return items.map((item): Account => {
		const coded = CODED.exec(item.name);
		const code = coded ? coded[1] : codeFor(item.name, '-', taken, 'account');
		if (taken.has(code))
			throw new Refusal(
				409,
				`“${code}” is there already: ${present.find((a) => a.code === code)?.name ?? 'it stands twice'}.`
			);
		taken.add(code);
		codes.set(item.code, code);
		return {
			code,
			name: coded ? coded[2] : item.name,
			parent: item.parent === null ? (heading?.code ?? null) : codes.get(item.parent)!,
			type,
			rollup: isBalance(type) ? 'last' : type === 'rate' ? 'average' : 'sum',
			format: type === 'statistical' ? 'number' : type === 'rate' ? 'percent' : 'money',
			cashFlow: null
		};
	});
}

/**
 * Changes an account: what it is called, where it stands, what it is.
 * @returns what of its figures goes from one total to another, by scenarios that the user sees
 * @throws Refusal 404, 422 where it cannot be, or figures of a locked scenario would change
 */
export async function changeAccount(
	context: Context,
	code: string,
	{ dry, before, ...change }: z.output<typeof AccountChange>
): Promise<{ moved: MovedFigures[] }> {
	const { structure } = await companyFor(context, 'change accounts');
	const known = structure.accounts.get(code);
	if (!known) throw notFound(`The account “${code}”`);
	const counts = COUNTING.some((what) => {
		const next = change[what as keyof typeof change];
		return next !== undefined && next !== known[what];
	});
	// Before anything is written: what is calculated already is kept for whoever only reads.
	const was = counts ? await figuresOf(context, [code]) : null;
	return trying(context, dry, async (within) => {
		const { accounts } = (await companyState(within.db)).structure;
		const account = accounts.get(code);
		if (!account) throw notFound(`The account “${code}”`);
		const parent = change.parent === undefined ? account.parent : change.parent;
		const heading = parent === null ? undefined : accounts.get(parent);
		if (parent !== null && !heading) throw notFound(`The account “${parent}”`);
		if (heading && parent !== account.parent && accounts.isLeaf(heading.code))
			await mustHoldNothing(within, heading, 'become a heading');
		const changed: Account = { ...account, ...change, parent };
		const list = accounts.all.map((a) =>
			a.code === code
				? { ...changed, parent: account.parent }
				: { ...a, translation: a.translation && !change.translation }
		);
		const placed =
			before === undefined && parent === account.parent
				? list
				: inPlace(() => moved(list, code, { parent, before: before ?? null }));
		await putHolding(within, placed, was);
		if (JSON.stringify(changed) !== JSON.stringify(account)) await journal(within, code, account, changed);
		// Whose they are is known.
		const shown = was ? await shownOf(within, was) : [];
		return { moved: shown.map(({ account: _own, ...m }) => m) };
	});
}

/** What totals rest on. */
const COUNTING: readonly (keyof Account)[] = ['parent', 'type', 'rollup', 'translation'];

/**
 * Changes cells of many accounts, all or none.
 * @returns how many were saved, and what of their figures goes from one total to another, by scenarios that the user sees
 * @throws Refusal 404, 409 with a conflict for each cell that is another by now, 422 with each value that cannot be, or
 * where figures of a locked scenario would change
 */
export async function saveAccountCells(
	context: Context,
	{ cells, dry }: z.output<typeof AccountCells>
): Promise<{ saved: number; moved: MovedFigures[] }> {
	const { structure } = await companyFor(context, 'change accounts');
	const changes: Map<string, Partial<Account>> = readCells(
		cells,
		(cell) => cell.account,
		(code) => structure.accounts.get(code)?.name,
		(column) => AccountChange.shape[column].unwrap(),
		'account'
	);
	const counted = [...changes].flatMap(([code, change]) =>
		COUNTING.some((what) => what in change) ? code : []
	);
	const was = counted.length ? await figuresOf(context, counted) : null;
	return trying(context, dry, async (within) => {
		const { accounts } = (await companyState(within.db)).structure;
		mustBeAsSeen(cells, (cell) => accounts.get(cell.account)?.[cell.column] ?? null);
		const changed = new Map(
			[...changes].map(([code, change]) => [code, { ...accounts.get(code)!, ...change }] as const)
		);
		await putHolding(
			within,
			accounts.all.map((a) => changed.get(a.code) ?? a),
			was
		);
		const { user, db } = within;
		await note(
			db,
			[...changed].map(([code, after]) => ({
				user: user.email,
				kind: 'account',
				scenario: '',
				about: { what: 'account', code },
				before: said(accounts.get(code)!),
				after: said(after),
				why: ''
			}))
		);
		return { saved: cells.length, moved: was ? await shownOf(within, was) : [] };
	});
}

/** Takes out an account that holds nothing. @throws Refusal 404, 422 with what it holds */
export async function removeAccount(context: Context, code: string): Promise<void> {
	await asOne(context, async (within) => {
		const { structure } = await companyFor(within, 'change accounts');
		const { accounts } = structure;
		const account = accounts.get(code);
		if (!account) throw notFound(`The account “${code}”`);
		if (!accounts.isLeaf(code))
			throw new Refusal(422, `There are accounts under “${account.name}”. Move or remove those first.`);
		await mustHoldNothing(within, account, 'go');
		const siblings = account.parent === null ? accounts.roots : accounts.children(account.parent);
		if (account.parent !== null && siblings.length === 1)
			throw new Refusal(
				422,
				`“${account.name}” is all that “${accounts.get(account.parent)!.name}” holds. A heading without accounts would take figures itself: remove it first by moving this one elsewhere.`
			);
		await putChart(
			within,
			accounts.all.filter((a) => a.code !== code)
		);
		await mustHold(within);
		await journal(within, code, account, null);
	});
}

/** @throws Refusal 422 with the first thing that would have no place any more, also in scenarios that were deleted */
async function mustHoldNothing(within: Within, { code, name }: Account, cannot: string): Promise<void> {
	const { db: trx } = within;
	const refuse = (what: string) => {
		throw new Refusal(422, `“${name}” ${what}, so it cannot ${cannot}.`);
	};
	const { n: ledger } = await stored.one(
		stored.counted,
		trx('ledger_account').where({ account: code }).count({ n: '*' }).first()
	);
	if (ledger) refuse(`holds ${ledger} ledger account${ledger === 1 ? '' : 's'} (Account map)`);
	if (await trx('series').where({ block: 'accounts', line: code }).first('scenario'))
		refuse('has figures that were typed');
	if (await trx('basis').where({ account: code }).orWhere({ of_account: code }).first('scenario'))
		refuse('is planned by a basis, or another one is planned by it');
	if ((await notedCells(within)).some((cell) => cell.line === code))
		refuse('has notes, items or attachments');
}

/** Puts the chart in this form. @throws Refusal 422 where it is none */
async function putChart({ db: trx }: Within, list: readonly Account[]): Promise<void> {
	const [fault] = chartFaults(list);
	if (fault) throw new Refusal(422, fault.message);
	await putTree(trx, 'account', buildTree(list).all.map(accountToRow));
	await touchCompany(trx);
}

/**
 * The same where figures may move by it.
 * @param was figures as they are until now; null where none can move
 * @throws Refusal 422 also where those of a locked scenario would change, or a scenario would not fit any more
 */
async function putHolding(
	within: Within,
	list: readonly Account[],
	was: readonly Figures[] | null
): Promise<void> {
	const { footing } = await companyState(within.db);
	await putChart(within, list);
	if (was) await keepLocked(within, was);
	// What calculates as before fits as before.
	if ((await companyState(within.db)).footing !== footing) await mustHold(within);
}

const said = (a: Account | null) => (a ? JSON.stringify(a) : '');
const journal = (within: Within, code: string, before: Account | null, after: Account | null) =>
	noteCompany(within, { what: 'account', code }, said(before), said(after));

/** A scenario in which accounts have figures. */
interface Figures {
	scenario: ListedScenario;
	/** Of each account that has figures there. */
	moved: MovedFigures[];
	/** As it is until now. */
	plan: Plan;
}

async function figuresOf({ db }: Context, codes: readonly string[]): Promise<Figures[]> {
	const { structure } = await companyState(db);
	const found: Figures[] = [];
	for (const scenario of await listScenarios(db)) {
		const plan = await planOf(db, scenario.code);
		const moved = codes.flatMap((code) => {
			const [there, shown = there] = totalsOver(plan, scenario, code);
			if (!there.some(isFigure)) return [];
			const balance = isBalance(structure.accounts.get(code)!.type);
			const amount = balance ? shown[shown.length - 1] : shown.reduce((a, b) => a + b, 0);
			return { account: code, ...movedIn(scenario, structure.currency, amount) };
		});
		if (moved.length) found.push({ scenario, moved, plan });
	}
	return found;
}

/**
 * An account's total over all departments, in each month of the scenario's own: amounts as they stand, which tell
 * whether any is there, and as they are shown.
 */
const totalsOver = (plan: Plan, scenario: ListedScenario, account: string): Float64Array[] =>
	// In one currency the two are one.
	[...new Set([comparable(plan), totalsOf(plan)])].map((totals) =>
		ownMonths(totals, scenario, account, null)
	);

async function keepLocked(within: Within, was: readonly Figures[]): Promise<void> {
	// Actuals are what the ledger is, in whatever chart.
	const locked = was.filter(({ scenario }) => scenario.locked && scenario.kind !== 'actuals');
	for (const { scenario, plan: before } of locked) {
		const plan = await planOf(within.db, scenario.code);
		const { accounts } = plan.structure;
		const [was, is] = [before.structure.accounts, accounts];
		const others =
			before.calculation === plan.calculation
				? resummed(was, is)
				: new Set(is.all.flatMap(({ code }) => (was.get(code) ? code : [])));
		for (const code of others) {
			const [a, b] = [before, plan].map((of) => totalsOver(of, scenario, code));
			if (!a.some((months, n) => months.some((v, i) => differ(v, b[n][i])))) continue;
			throw new Refusal(
				422,
				`This would change “${accounts.get(code)!.name}” in ${await namedFor(within, [scenario.code])}, which is locked. Nothing was changed. Unlock it first.`
			);
		}
	}
}

/** As far as the user sees the scenarios. */
async function shownOf(within: Within, was: readonly Figures[]): Promise<MovedFigures[]> {
	const seen = new Set((await visibleScenarios(within)).map((s) => s.code));
	return was.filter((f) => seen.has(f.scenario.code)).flatMap((f) => f.moved);
}
