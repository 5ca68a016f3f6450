/** Closing a month and rolling the forecast forward. */
import { z } from 'zod';
import { yearFrom } from '../../core/calendar/spans';
import type { Knex } from 'knex';
import { addedUp, type Amounts } from '../../core/currency/amounts';
import { overTime } from '../../core/statements/statement';
import { totalsOf, type Totals } from '../../core/statements/totals';
import type { Scenario } from '../../core/scenario/schema';
import type { Extend } from '../../core/inputs/extend';
import { laterFrom } from '../../core/calendar/mixed';
import { nextForecast } from '../../core/scenario/carry';
import { entryCurrency } from '../company/entry-currency';
import { note } from '../company/journal';
import { Refusal } from '../platform/refusal';
import { copyParts } from '../company/subjects/scenarios';
import { copyValues, makeScenario } from './making';
import { planOf } from './plans';
import { keepingToThoseWhoSee } from './rests-on';
import { getScenario, mustSee, touchScenario, visibleScenarios, writableScenario } from './scenarios';
import { rememberTyped } from './typed-since';
import { companyState, touchCompany, companyFor } from '../company/structure';
import { entriesIn } from '../company/subjects/entries';
import * as stored from '../platform/db/stored';
import { asOne, type Context } from '../platform/context';

const UnmappedRow = z.object({
	code: stored.text,
	name: stored.text,
	department: stored.text,
	amount: stored.amount
});
interface Unmapped {
	code: string;
	name: string;
	/** Debit positive. */
	amounts: Amounts;
}

export interface CloseProposal {
	/** The month to close; null when none is loaded beyond the last closed. */
	month: number | null;
	entries: number;
	unmapped: Unmapped[];
	/** Forecasts and budgets it can continue from, newest first. */
	from: { code: string; name: string; last: number }[];
	name: string;
	last: number;
	/** Last period of the year that follows it: no new forecast ends before. */
	reaches: number;
	/** Last closed month. */
	closedThrough: number | null;
	/** Open scenarios that look back through one of `from`, and could look back through the new forecast instead. */
	followers: { code: string; name: string; follows: string }[];
}

/** What closing the next month would do. */
export async function proposeClose(context: Context): Promise<CloseProposal> {
	const { db } = context;
	const state = await companyFor(context, 'close months');
	const next =
		state.closedThrough !== null
			? state.closedThrough + 1
			: state.actuals.last >= 0
				? state.actuals.first
				: null;
	const month = next !== null && next <= state.actuals.last ? next : null;
	const visible = await visibleScenarios(context);
	const candidates = visible
		.filter((s) => s.kind === 'forecast' || s.kind === 'budget')
		.filter((s) => month === null || (s.first <= month && s.last >= month))
		.sort(
			(a, b) =>
				Number(b.kind === 'forecast') - Number(a.kind === 'forecast') ||
				(b.actualsThrough ?? 0) - (a.actualsThrough ?? 0)
		);
	const previous = candidates[0];
	const forecast = month !== null && previous ? nextForecast(state.calendar, previous, month) : null;
	const unmapped = month === null ? [] : await unmappedIn(db, month);
	const loaded = month === null ? 0 : await entriesIn(db, month);
	return {
		month,
		entries: loaded,
		unmapped,
		from: candidates.map(({ code, name, last }) => ({ code, name, last })),
		name: forecast?.name ?? '',
		last: forecast?.last ?? 0,
		reaches: month === null ? 0 : yearFrom(state.calendar, month + 1).to,
		closedThrough: state.closedThrough,
		followers: visible.flatMap((s) =>
			!s.locked && s.follows !== null && candidates.some((c) => c.code === s.follows)
				? [{ code: s.code, name: s.name, follows: s.follows }]
				: []
		)
	};
}

/** Ledger accounts of a month that are mapped to nothing, with what stands on them. */
async function unmappedIn(db: Knex, month: number): Promise<Unmapped[]> {
	const { structure, ledgerAccounts } = await companyState(db);
	const currencyOf = entryCurrency(structure, ledgerAccounts);
	const rows = await stored.rows(
		UnmappedRow,
		db('ledger_entry')
			.join('ledger_account', 'ledger_account.code', 'ledger_entry.ledger_account')
			.where({ period: month })
			.whereNull('ledger_account.account')
			.groupBy('ledger_account.code', 'ledger_account.name', 'ledger_entry.department')
			.orderBy('ledger_account.code')
			.select('ledger_account.code', 'ledger_account.name', 'ledger_entry.department')
			.sum({ amount: 'ledger_entry.amount' })
	);
	const found = new Map<string, Unmapped>();
	for (const { code, name, department, amount } of rows)
		found.set(code, {
			code,
			name,
			amounts: addedUp([found.get(code)?.amounts ?? {}, { [currencyOf(code, department)]: amount }])
		});
	return [...found.values()];
}

export interface CloseInput {
	month: number;
	from: string;
	name: string;
	/** How typed account plans are carried into months that are new. */
	accounts: Extend;
	/** Scenarios that look back through the previous forecast, and shall look back through the new one. */
	followers: readonly string[];
	/** Close although ledger accounts of the month are unmapped. */
	despiteUnmapped: boolean;
}

/**
 * Closes a month and makes the next forecast: actuals through it, the rest from the previous forecast,
 * the window extended. One step: all of it or nothing.
 */
export async function closeMonth(context: Context, input: CloseInput): Promise<string> {
	const { user } = context;
	return asOne(context, async (within) => {
		const { db: trx } = within;
		const state = await companyFor(within, 'close months');
		const { calendar } = state;
		const label = calendar.longLabel(input.month);
		if (state.closedThrough !== null && input.month <= state.closedThrough)
			throw new Refusal(409, `${label} is closed already.`);
		if (input.month > state.actuals.last || input.month < state.actuals.first)
			throw new Refusal(
				422,
				`Nothing has been loaded for ${label} yet. Load its ledger file under Set up first.`
			);
		if (state.closedThrough !== null && input.month > state.closedThrough + 1)
			throw new Refusal(422, `${calendar.longLabel(state.closedThrough + 1)} has to be closed first.`);
		const unmapped = await unmappedIn(trx, input.month);
		if (unmapped.length && !input.despiteUnmapped)
			throw new Refusal(
				409,
				`${unmapped.length === 1 ? `Ledger account ${unmapped[0].code} is` : `${unmapped.length} ledger accounts are`} not mapped, so ${label} would close incomplete. Map first, or confirm.`,
				unmapped.map(({ code, name, amounts }) => {
					const said = Object.entries(amounts).map(
						([currency, amount]) => `${currency} ${amount.toFixed(2)}`
					);
					return { message: `${code} ${name}: ${said.join(' and ')}` };
				})
			);
		await mustSee(within, input.from);
		const previous = await getScenario(trx, input.from);
		if (previous.kind !== 'forecast' && previous.kind !== 'budget')
			throw new Refusal(422, `“${previous.name}” is neither a forecast nor a budget.`);
		if (previous.first > input.month || previous.last < input.month)
			throw new Refusal(422, `“${previous.name}” does not span ${label}.`);
		const next = nextForecast(calendar, previous, input.month);
		const code = await makeScenario(within, previous, {
			name: input.name,
			kind: 'forecast',
			last: next.last,
			laterYears: laterFrom(previous.laterYears, calendar.fiscalYear(input.month + 1) + 1),
			actualsThrough: next.actualsThrough,
			// What a budget counted with is not what a forecast expects.
			...(previous.kind === 'budget' ? { rates: null } : {}),
			description: `Actuals through ${label}, then as ${previous.name}.`
		});
		await copyParts(trx, previous.code, code, ['always']);
		await copyValues(trx, previous, code, input.accounts);
		for (const follower of input.followers) {
			await mustSee(within, follower);
			const scenario = await writableScenario(trx, follower);
			if (scenario.follows !== previous.code)
				throw new Refusal(422, `“${scenario.name}” does not look back through ${previous.name}.`);
			await keepingToThoseWhoSee(within, () =>
				trx('scenario').where({ code: follower }).update({ follows: code, actuals_through: input.month })
			);
			await note(trx, [
				{
					user: user.email,
					kind: 'follow',
					scenario: follower,
					about: { what: 'scenario', field: 'follows' },
					before: previous.code,
					after: code,
					why: ''
				}
			]);
			await touchScenario(trx, follower);
		}
		await trx('company').where({ id: 1 }).update({ closed_through: input.month });
		await note(trx, [
			{
				user: user.email,
				kind: 'close',
				scenario: code,
				about: { what: 'close', period: calendar.key(input.month) },
				before: previous.code,
				after: code,
				why: ''
			}
		]);
		await touchCompany(trx);
		// Calculated before it is kept.
		for (const made of [code, ...input.followers]) await planOf(trx, made);
		return code;
	});
}

/** Opens the last closed month again, so that its ledger file can be replaced. */
export async function reopenMonth(context: Context, month: number, why: string): Promise<void> {
	const { user } = context;
	await asOne(context, async (within) => {
		const { db: trx } = within;
		const state = await companyFor(within, 'close months');
		if (state.closedThrough !== month)
			throw new Refusal(409, `Only the last closed ${state.calendar.words.one} can be reopened.`);
		if (why.trim() === '') throw new Refusal(422, `Say why the ${state.calendar.words.one} is reopened.`);
		await trx('company')
			.where({ id: 1 })
			.update({ closed_through: month - 1 });
		await note(trx, [
			{
				user: user.email,
				kind: 'reopen',
				scenario: '',
				about: { what: 'close', period: state.calendar.key(month) },
				before: 'closed',
				after: 'open',
				why: why.trim()
			}
		]);
		await touchCompany(trx);
	});
}

export interface ForecastChange {
	account: string;
	name: string;
	was: number;
	now: number;
}

/** What changed against another scenario over the months both have: top-level accounts of the statement. */
export async function changesBetween(
	db: Knex,
	now: Scenario,
	was: Scenario
): Promise<{ from: number; to: number; rows: ForecastChange[] }> {
	const { structure } = await companyState(db);
	const from = Math.max(now.first, was.first);
	const to = Math.min(now.last, was.last);
	const [a, b] = [await planOf(db, now.code), await planOf(db, was.code)];
	const [ta, tb] = [a, b].map((of) => totalsOf(of, structure.calendar));
	const root = structure.accounts.roots.find((r) => r.type === 'revenue' || r.type === 'expense');
	const shown = root
		? structure.accounts
				.subtree(root.code)
				.filter((x) => structure.accounts.depth(x.code) <= 2 && !structure.accounts.isLeaf(x.code))
		: [];
	const value = (totals: Totals, code: string) => {
		const cell = overTime(totals.of(code, null), from, to);
		return typeof cell === 'number' ? cell : 0;
	};
	return {
		from,
		to,
		rows: shown.map((x) => ({
			account: x.code,
			name: x.name,
			was: value(tb, x.code),
			now: value(ta, x.code)
		}))
	};
}

/** Locks or unlocks a scenario. */
export async function setLock(context: Context, code: string, locked: boolean, why: string): Promise<void> {
	const { user } = context;
	await asOne(context, async (within) => {
		const { db: trx } = within;
		await companyFor(within, 'change scenarios');
		await mustSee(within, code);
		const scenario = await getScenario(trx, code);
		if (scenario.kind === 'actuals') throw new Refusal(422, 'Actuals are closed month by month instead.');
		if (scenario.locked === locked) return;
		if (!locked && why.trim() === '') throw new Refusal(422, 'Say why it is unlocked.');
		await trx('scenario').where({ code }).update({ locked });
		rememberTyped(trx, code, await touchScenario(trx, code), {});
		await note(trx, [
			{
				user: user.email,
				kind: 'lock',
				scenario: code,
				about: { what: 'scenario', field: 'lock' },
				before: String(scenario.locked),
				after: String(locked),
				why: why.trim()
			}
		]);
	});
}
