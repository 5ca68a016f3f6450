/** Exchange rates: sets of them, made, named, typed, loaded and taken out. */
import { z } from 'zod';
import type { Calendar } from '../../core/calendar/calendar';
import { codeFor } from '../../core/company/code';
import { isCurrency } from '../../core/company/currency';
import {
	foreignCurrencies,
	missingRates,
	Rate,
	RATE_KINDS,
	setFor,
	type CurrencyRates,
	type MissingRates,
	type RateKind,
	type RateSet
} from '../../core/currency/rates';
import { readRates, type ReadRate } from '../../core/currency/read-rates';
import { valueAt, withValues } from '../../core/inputs/series';
import { noteCompany } from '../company/journal';
import { companyFor, companyState, touchCompany, type CompanyState } from '../company/structure';
import { setToRow, storeRates } from '../company/subjects/rates';
import { asOne, type Context, type Within } from '../platform/context';
import { notFound, Refusal } from '../platform/refusal';
import { inCalendar, Known, Period } from '../platform/schemas';
import { listScenarios, namedFor, visibleScenarios } from '../scenarios/scenarios';
import { Label, trying } from './tree';

export const MOST_SETS = 100;
export const MOST_CELLS = 20_000;

export const NewRateSet = z.strictObject({
	name: Label,
	/** The set whose rates it begins with; null begins with none. */
	from: Known.nullable().default(null)
});
export const RateSetChange = z.strictObject({
	name: Label.optional(),
	/** Actuals are translated by it from now on. */
	actuals: z.literal(true).optional()
});
const Currency = z.string().max(3).refine(isCurrency, 'no currency (ISO 4217)');
const cellOf = (calendar: Calendar) =>
	z.strictObject({
		currency: Currency,
		kind: z.enum(RATE_KINDS),
		period: Period(calendar),
		/** What stood there when it was typed; null where nothing did. */
		before: z.number().nullable(),
		/** Null takes it away. */
		value: Rate.nullable()
	});
export const RateCells = inCalendar((calendar) =>
	z.strictObject({ cells: z.array(cellOf(calendar)).min(1).max(MOST_CELLS) })
);
export const RateText = z.strictObject({
	/** Lines of currency, period, average and closing rate. */
	text: z.string().min(1, 'nothing is pasted').max(2_000_000),
	dry: z.boolean().default(false)
});
export type RateCell = z.output<ReturnType<typeof cellOf>>;

export interface RateSetView {
	code: string;
	name: string;
	actuals: boolean;
	currencies: { currency: string; average: Kept; closing: Kept }[];
	/** Scenarios that are translated by it, as far as the user sees them. */
	scenarios: { code: string; name: string; locked: boolean; last: number }[];
	/** What those lack. */
	missing: MissingRates[];
}
type Kept = { first: number; values: (number | null)[] } | null;

/** All sets, with what is missing in them; the first heading of equity, under which translation differences can stand. */
export async function rateSetsOf(
	context: Context
): Promise<{ sets: RateSetView[]; foreign: string[]; translation: boolean; equity: string | null }> {
	const state = await companyFor(context, 'set exchange rates');
	const { rateSets, structure } = state;
	const foreign = foreignCurrencies(structure);
	const scenarios = await visibleScenarios(context);
	return {
		foreign,
		translation: structure.accounts.all.some((a) => a.translation),
		equity:
			structure.accounts.all.find((a) => a.type === 'equity' && !structure.accounts.isLeaf(a.code))?.code ??
			null,
		sets: rateSets.map((set) => {
			const own = scenarios.filter((s) => setFor(rateSets, s.rates) === set);
			const first = Math.min(...own.map((s) => s.first));
			const last = Math.max(...own.map((s) => s.last));
			const listed = [...new Set([...foreign, ...set.rates.map((r) => r.currency)])];
			return {
				code: set.code,
				name: set.name,
				actuals: set.actuals,
				currencies: listed.map((currency) => {
					const rates = set.rates.find((r) => r.currency === currency);
					return { currency, average: plain(rates?.average), closing: plain(rates?.closing) };
				}),
				scenarios: own.map(({ code, name, locked, last }) => ({ code, name, locked, last })),
				missing: own.length ? missingRates(set.rates, foreign, first, last) : []
			};
		})
	};
}

const plain = (run: CurrencyRates[RateKind] | undefined): Kept =>
	run ? { first: run.first, values: Array.from(run.values, (v) => (Number.isNaN(v) ? null : v)) } : null;

/** A company that counts in several currencies has a set for its actuals. */
export async function beginRates(within: Within): Promise<void> {
	const { structure, rateSets } = await companyState(within.db);
	if (rateSets.length || !foreignCurrencies(structure).length) return;
	const set: RateSet = { code: 'current', name: 'Current rates', actuals: true, rates: [] };
	await putSet(within, null, set, 0);
}

/** @returns its code @throws Refusal 404, 409 for a name that is taken */
export async function addRateSet(
	context: Context,
	{ name, from }: z.output<typeof NewRateSet>
): Promise<{ code: string }> {
	return asOne(context, async (within) => {
		const { rateSets } = await companyFor(within, 'set exchange rates');
		if (rateSets.length >= MOST_SETS)
			throw new Refusal(422, `There are ${MOST_SETS} sets of rates already; remove one first.`);
		mustBeFree(rateSets, name, null);
		const origin = from === null ? null : setIn(rateSets, from);
		const codes = rateSets.map((s) => s.code);
		const code = codeFor(name, '-', codes, 'rates');
		const set = { code, name, actuals: !rateSets.length, rates: origin?.rates ?? [] };
		await putSet(within, null, set, rateSets.length);
		return { code };
	});
}

/**
 * Renames a set, or makes it the one of actuals.
 * @throws Refusal 404, 409 for a name that is taken, 422 where figures of a locked scenario would change
 */
export async function changeRateSet(
	context: Context,
	code: string,
	{ name, actuals }: z.output<typeof RateSetChange>
): Promise<void> {
	await asOne(context, async (within) => {
		const { rateSets } = await companyFor(within, 'set exchange rates');
		const set = setIn(rateSets, code);
		if (name !== undefined) mustBeFree(rateSets, name, code);
		if (actuals && !set.actuals) {
			const locked = (await listScenarios(within.db)).filter(
				(s) => s.locked && s.kind !== 'actuals' && !s.rates
			);
			if (locked.length) await refuseLocked(within, locked, 'actuals keep their rates');
			await within.db('rate_set').update({ actuals: 0 });
		}
		const changed = { ...set, name: name ?? set.name, actuals: set.actuals || actuals === true };
		await putSet(within, set, changed, rateSets.indexOf(set));
	});
}

/** @throws Refusal 404, 422 while something is translated by it */
export async function removeRateSet(context: Context, code: string): Promise<void> {
	await asOne(context, async (within) => {
		const { db: trx } = within;
		const { rateSets, structure } = await companyFor(within, 'set exchange rates');
		const set = setIn(rateSets, code);
		if (set.actuals && (rateSets.length > 1 || foreignCurrencies(structure).length))
			throw new Refusal(
				422,
				`Actuals are translated by “${set.name}”, so it cannot go. Make another set the one of actuals first.`
			);
		// One that was deleted may come back.
		const using = await trx('scenario').where({ rates: code }).pluck('code');
		if (using.length)
			throw new Refusal(
				422,
				`“${set.name}” is what ${await namedFor(within, using)} is translated by, so it cannot go.`
			);
		await trx('rate_set').where({ code }).delete();
		await touchCompany(trx);
		await noteCompany(within, { what: 'rates', set: code }, JSON.stringify({ name: set.name }), '');
	});
}

/**
 * Types rates of a set.
 * @throws Refusal 404, 409 where others have changed one since, 422 where figures of a locked scenario would change
 */
export async function typeRates(
	context: Context,
	code: string,
	cells: readonly RateCell[]
): Promise<{ saved: number }> {
	return asOne(context, async (within) => {
		const state = await companyFor(within, 'set exchange rates');
		const set = setIn(state.rateSets, code);
		const now = (c: RateCell) => rateOf(set, c.currency, c.kind, c.period);
		const overtaken = cells.filter((c) => now(c) !== c.before && now(c) !== c.value);
		if (overtaken.length)
			throw new Refusal(
				409,
				`Somebody else has changed ${rateName(overtaken[0], state.calendar)} meanwhile: it is ${now(overtaken[0]) ?? 'blank'} now. Look at the page anew; nothing was saved.`
			);
		return { saved: await writeRates(within, state, set, cells) };
	});
}

/**
 * Loads rates from text.
 * @returns those that differ from what stands there
 * @throws Refusal 422 with each line that cannot be taken
 */
export async function loadRates(
	context: Context,
	code: string,
	{ text, dry }: z.output<typeof RateText>
): Promise<{ read: number; changes: (ReadRate & { before: Pick<ReadRate, RateKind> })[] }> {
	return trying(context, dry, async (within) => {
		const state = await companyFor(within, 'set exchange rates');
		const set = setIn(state.rateSets, code);
		const { rates, faults } = readRates(text, state.calendar, state.company.currency);
		if (faults.length)
			throw new Refusal(
				422,
				'These rates cannot be taken.',
				faults.map(({ line, message }) => ({ row: line, message }))
			);
		const before = (r: ReadRate) => ({
			average: rateOf(set, r.currency, 'average', r.period),
			closing: rateOf(set, r.currency, 'closing', r.period)
		});
		const changes = rates
			.map((r) => ({ ...r, before: before(r) }))
			.filter((r) => RATE_KINDS.some((kind) => r[kind] !== null && r[kind] !== r.before[kind]));
		const cells = changes.flatMap((r) =>
			RATE_KINDS.flatMap((kind): RateCell[] =>
				r[kind] === null
					? []
					: [{ currency: r.currency, period: r.period, kind, before: r.before[kind], value: r[kind] }]
			)
		);
		await writeRates(within, state, set, cells);
		return { read: rates.length, changes };
	});
}

const rateOf = (set: RateSet, currency: string, kind: RateKind, period: number): number | null =>
	valueAt(set.rates.find((r) => r.currency === currency)?.[kind] ?? null, period);
const rateName = (
	{ currency, kind, period }: Pick<RateCell, 'currency' | 'kind' | 'period'>,
	calendar: Calendar
) => `the ${kind} rate of ${currency} in ${calendar.label(period)}`;

async function writeRates(
	within: Within,
	{ calendar, company }: CompanyState,
	set: RateSet,
	cells: readonly RateCell[]
): Promise<number> {
	const changed = cells.filter((c) => rateOf(set, c.currency, c.kind, c.period) !== c.value);
	if (!changed.length) return 0;
	const own = changed.find((c) => c.currency === company.currency);
	if (own)
		throw new Refusal(422, `${own.currency} is the currency that the company reports in; its rate is 1.`);
	await mustLeaveLocked(within, set, changed);
	const currencies = new Set([...set.rates.map((r) => r.currency), ...changed.map((c) => c.currency)]);
	const rates = [...currencies].map((currency): CurrencyRates => {
		const had = set.rates.find((r) => r.currency === currency);
		const run = (kind: RateKind) =>
			withValues(
				had?.[kind] ?? null,
				new Map(
					changed.flatMap((c) => (c.currency === currency && c.kind === kind ? [[c.period, c.value]] : []))
				)
			);
		return { currency, average: run('average'), closing: run('closing') };
	});
	await storeRates(within.db, set.code, rates);
	await touchCompany(within.db);
	const said = (value: 'before' | 'value') =>
		JSON.stringify(
			changed.map((c) => ({
				currency: c.currency,
				kind: c.kind,
				period: calendar.key(c.period),
				rate: value === 'value' ? c.value : rateOf(set, c.currency, c.kind, c.period)
			}))
		);
	await noteCompany(within, { what: 'rates', set: set.code }, said('before'), said('value'));
	return changed.length;
}

/** A rate that a locked scenario is translated by stays; one that it lacks can be given. */
async function mustLeaveLocked(within: Within, set: RateSet, changed: readonly RateCell[]): Promise<void> {
	const { rateSets } = await companyState(within.db);
	const locked = (await listScenarios(within.db)).filter(
		(s) =>
			s.locked &&
			s.kind !== 'actuals' &&
			setFor(rateSets, s.rates)?.code === set.code &&
			changed.some(
				// Those before its first count too: in last year, in balances as they arose, in what its models look back on.
				(c) => c.period <= s.last && rateOf(set, c.currency, c.kind, c.period) !== null
			)
	);
	if (locked.length) await refuseLocked(within, locked, 'those rates stay');
}

async function refuseLocked(within: Within, locked: readonly { code: string }[], so: string): Promise<never> {
	const names = await namedFor(
		within,
		locked.map((s) => s.code)
	);
	throw new Refusal(
		422,
		`${names} ${locked.length === 1 ? 'is' : 'are'} locked and translated by them, so ${so}. Nothing was saved. Unlock it first, or make a set of its own for what comes.`
	);
}

function setIn(sets: readonly RateSet[], code: string): RateSet {
	const set = sets.find((s) => s.code === code);
	if (!set) throw notFound(`The set of rates “${code}”`);
	return set;
}

function mustBeFree(sets: readonly RateSet[], name: string, own: string | null): void {
	if (sets.some((s) => s.code !== own && s.name === name))
		throw new Refusal(409, `There is a set of rates named “${name}” already.`);
}

async function putSet(within: Within, before: RateSet | null, set: RateSet, position: number): Promise<void> {
	const { db: trx } = within;
	const row = setToRow(set, position);
	if (before) await trx('rate_set').where({ code: set.code }).update(row);
	else {
		await trx('rate_set').insert(row);
		await storeRates(trx, set.code, set.rates);
	}
	await touchCompany(trx);
	const said = (s: RateSet | null) => (s ? JSON.stringify({ name: s.name, actuals: s.actuals }) : '');
	await noteCompany(within, { what: 'rates', set: set.code }, said(before), said(set));
}
