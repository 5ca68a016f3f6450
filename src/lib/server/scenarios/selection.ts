/** The selection bar's choice: scenario, department, window. It stands in the address; what is missing gets a default. */
import { z } from 'zod';
import { readableRoots, mayRead } from '../platform/auth/policy';
import { ACTUALS, visibleScenarios } from './scenarios';
import { companyState } from '../company/structure';
import { MONEY_VIEWS, moneyView, type MoneyView } from '../../core/currency/view';
import { MOST_MONTHS, yearFrom } from '../../core/calendar/spans';
import { firstOpen } from '../../core/scenario/assemble';
import type { Scenario } from '../../core/scenario/schema';
import * as stored from '../platform/db/stored';
import type { Context } from '../platform/context';

const AskedFor = z.object({ department: stored.text, scenario: stored.text });

export interface Selection {
	scenario: string;
	department: string;
	/** Period ordinals, both included. */
	from: number;
	to: number;
	/** In which currency figures are shown. */
	money: MoneyView;
}

/** The scenario to begin with: the newest open forecast, else the newest plan, else actuals. */
export function defaultScenario<S extends Scenario>(scenarios: readonly S[]): S | undefined {
	const plans = scenarios.filter((s) => s.kind !== 'actuals');
	const newest = (list: S[]) =>
		[...list].sort((a, b) => (a.actualsThrough ?? 0) - (b.actualsThrough ?? 0)).at(-1);
	return newest(plans.filter((s) => s.kind === 'forecast' && !s.locked)) ?? newest(plans) ?? scenarios[0];
}

/** What an address asks for; null where it says nothing. */
export function askedMoney(url: URL): MoneyView | null {
	const asked = url.searchParams.get('money');
	return MONEY_VIEWS.find((view) => view === asked) ?? null;
}

/** Reads the selection from an address for a user; never leads to what the user may not see. */
export async function selectionFrom(context: Context, url: URL): Promise<Selection> {
	const { db, user } = context;
	const { structure, calendar } = await companyState(db);
	const scenarios = await visibleScenarios(context);
	const asked = url.searchParams.get('department');
	const own = readableRoots(user, structure.departments);
	let department =
		asked && structure.departments.get(asked) && mayRead(user, asked, structure.departments) ? asked : null;
	let scenario = scenarios.find((s) => s.code === url.searchParams.get('scenario'));
	if (user.role === 'contributor' && !url.pathname.startsWith('/compare') && (!department || !scenario)) {
		// Begin where something is asked of them.
		const leaves = own.flatMap((d) => structure.departments.leaves(d.code)).map((d) => d.code);
		const row = await stored.row(
			AskedFor,
			db('submission')
				.join('round', 'round.code', 'submission.round')
				.whereIn('department', leaves)
				.whereIn('state', ['returned', 'drafting', 'not started'])
				.orderByRaw("case state when 'returned' then 0 when 'drafting' then 1 else 2 end")
				.first('department', 'scenario')
		);
		department ??= row?.department ?? leaves[0];
		scenario ??= scenarios.find((s) => s.code === row?.scenario);
	}
	department ??= own[0]?.code ?? '';
	if (!scenario && url.pathname.startsWith('/compare')) scenario = scenarios.find((s) => s.code === ACTUALS);
	scenario ??= defaultScenario(scenarios);
	const open = scenario
		? scenario.kind === 'actuals'
			? scenario.last
			: Math.min(firstOpen(scenario), scenario.last)
		: 0;
	const start = calendar.yearStart(calendar.fiscalYear(open));
	const from = calendar.parse(url.searchParams.get('from') ?? '') ?? start;
	const to = calendar.parse(url.searchParams.get('to') ?? '') ?? yearFrom(calendar, from).to;
	return {
		scenario: scenario?.code ?? '',
		department,
		from,
		money: moneyView(structure, department, askedMoney(url)),
		to: Math.min(Math.max(from, to), from + MOST_MONTHS - 1)
	};
}

/**
 * The same address with the whole selection in it, so that what is shown can be linked and does not change by itself later;
 * null where it is there, or there is nothing to select.
 */
export async function wholeAddress(context: Context, url: URL): Promise<string | null> {
	if (['scenario', 'department', 'from', 'to'].every((name) => url.searchParams.has(name))) return null;
	const { calendar } = await companyState(context.db);
	const { scenario, department, from, to } = await selectionFrom(context, url);
	if (!scenario) return null;
	const full = new URL(url);
	full.searchParams.set('scenario', scenario);
	full.searchParams.set('department', department);
	full.searchParams.set('from', calendar.key(from));
	full.searchParams.set('to', calendar.key(to));
	return full.pathname + full.search;
}
