/** What the what-if page shows of a scenario. */
import { maySeeBlock } from './seen-blocks';
import { adjustsClosed, closedTo } from './individual-pay';
import type { AdjustableLine } from '../../core/blocks/block';
import { cashFlows } from '../../core/company/cash-flow';
import { effectsOf, type MeasureEffect } from '../../core/analysis/effects';
import type { Measure } from '../../core/analysis/measure';
import { ownerOf } from '../../core/blocks/schedule/personal';
import { adjustmentsFrom, type Adjustment } from '../../core/inputs/adjust';
import type { Plan } from '../../core/scenario/plan';
import { watchedAtFirst, type KeyAccount } from '../../core/statements/key-figures';
import type { AdjustmentDefinition } from '../../core/inputs/schema';
import type { NumberFormat } from '../../core/company/schema';
import { treeOf, type Structure } from '../../core/company/structure';
import { may, mustRead } from '../platform/auth/policy';
import type { User } from '../platform/auth/sessions';
import { readAdjustmentsOf } from '../company/subjects/scenario/adjustments';
import { plannedAccounts } from '../../core/views/plan-rows';
import { planWithData } from './plans';
import { mustBeAdjustments } from './soundness';
import type { Selection } from './selection';
import { mustSee } from './scenarios';
import { companyFor } from '../company/structure';
import type { Context } from '../platform/context';

/** What an adjustment may change: typed lines of driver models, accounts, lines and columns of schedules. */
export interface Adjustable {
	block: string;
	name: string;
	dimensions: { code: string; name: string; members: { code: string; name: string; depth: number }[] }[];
	lines: {
		code: string;
		name: string;
		format: NumberFormat;
		column?: AdjustableLine['column'];
		choices?: AdjustableLine['choices'];
	}[];
}

export interface WhatIfView {
	adjustments: AdjustmentDefinition[];
	/** How many change schedules that are closed to the user, and are in the figures without being shown. */
	kept: number;
	adjustables: Adjustable[];
	/** Accounts whose result can be watched, groups too, and lines of driver models. */
	accounts: (KeyAccount & { format: NumberFormat })[];
	lines: { model: string; line: string; name: string; format: string }[];
	open: number;
	last: number;
	editable: boolean;
	/** Why nothing is kept, in words; empty when it is. */
	reason: string;
	/** What adjustments do to accounts that are watched at first, by code; of none where the page has to work it out. */
	effects: Record<string, MeasureEffect>;
}

/** The figures that are watched: of which scenario and department, over which periods. */
export type Watched = Pick<Selection, 'scenario' | 'department' | 'from' | 'to' | 'money'>;

export async function readWhatIf(context: Context, watched: Watched): Promise<WhatIfView> {
	const { scenario } = watched;
	const { db, user } = context;
	const { structure } = await companyFor(context, 'see driver models');
	await mustSee(context, scenario);
	const { plan, data } = await planWithData(db, scenario);
	const definitions = [...plan.models.values()];
	const nameOf = (d: string) => structure.dimensions.get(d)?.dimension.name ?? 'Department';
	const members = (d: string, used: ReadonlySet<string>) => {
		const tree = treeOf(structure, d)!;
		const inUse = new Set([...used].flatMap((m) => tree.ancestors(m).map((a) => a.code)));
		return tree.all
			.filter((m) => inUse.has(m.code))
			.map((m) => ({ code: m.code, name: m.name, depth: tree.depth(m.code) }));
	};
	const may_ = may(user, 'change driver models', structure.departments);
	const reason = !may_
		? 'Your role may try adjustments here; nothing is kept.'
		: plan.scenario.kind === 'actuals'
			? 'Actuals cannot be adjusted.'
			: plan.scenario.locked
				? `“${plan.scenario.name}” is locked: adjustments can be tried here, and nothing is kept.`
				: '';
	const closed = closedToSchedules(user, plan, structure);
	const all = await readAdjustmentsOf(db, scenario);
	const shown = keyAccounts(plan, structure);
	const adjustments = all.filter((a) => !adjustsClosed(a, closed));
	return {
		adjustments,
		kept: all.length - adjustments.length,
		adjustables: [...plan.blocks.values()].flatMap((block): Adjustable[] => {
			const seen = maySeeBlock(user, block, structure.departments) && !closed.has(ownerOf(block.code));
			const lines = seen ? block.adjustable() : [];
			if (!lines.length) return [];
			const { code, name, dimensions, rows, traits } = block;
			return [
				{
					block: code,
					name,
					dimensions: [
						...traits.map((t) => ({ code: t.code, name: t.label, members: t.values() })),
						// Rows of a schedule are no members that could be chosen by their tree.
						...dimensions.flatMap((d, i) =>
							treeOf(structure, d) && !traits.some((t) => t.code === d)
								? [{ code: d, name: nameOf(d), members: members(d, new Set(rows.map((r) => r[i]))) }]
								: []
						)
					],
					lines: lines.map(({ code: line, label, format, column, choices }) => ({
						code: line,
						name: label,
						format,
						column,
						choices
					}))
				}
			];
		}),
		accounts: shown,
		lines: definitions.flatMap(({ definition }) =>
			definition.lines.map((l) => ({
				model: definition.code,
				line: l.code,
				name: `${definition.name}: ${l.label}`,
				format: l.format
			}))
		),
		open: plan.open,
		last: plan.scenario.last,
		editable: reason === '',
		reason,
		// Who may not see all rows works with what they come to, which does not move with sales: one answer for all they try.
		effects: closed.size || !isOf(plan, all) ? {} : effectsIn(plan, data.adjustments ?? [], shown, watched)
	};
}

/**
 * What adjustments would do, in the place of the scenario's own, to accounts that are watched at first; nothing is kept.
 * @returns by account; none where the page has to work it out: what schedules hold is closed to the user, or the plan is
 * not built for them
 * @throws Refusal 403, 404, 422 for one that changes what is computed or not there
 */
export async function tryAdjustments(
	context: Context,
	watched: Watched,
	definitions: readonly AdjustmentDefinition[]
): Promise<Record<string, MeasureEffect>> {
	const { scenario, department } = watched;
	const { db, user } = context;
	const { structure } = await companyFor(context, 'see driver models');
	await mustSee(context, scenario);
	mustRead(user, department, structure.departments);
	const { plan } = await planWithData(db, scenario);
	if (closedToSchedules(user, plan, structure).size) return {};
	const counted = definitions.filter((d) => d.adopted === null);
	await mustBeAdjustments(db, scenario, structure, counted);
	const adjustments = adjustmentsFrom(counted, plan.structure.calendar);
	return plan.inputs.takes(adjustments)
		? effectsIn(plan, adjustments, keyAccounts(plan, structure), watched)
		: {};
}

/** Schedules whose rows, or pay, the user does not see. */
const closedToSchedules = (user: User, plan: Plan, structure: Structure) =>
	closedTo(
		user,
		[...plan.schedules.values()].map((s) => s.definition),
		structure
	);

function keyAccounts(plan: Plan, { accounts }: Structure): WhatIfView['accounts'] {
	const flows = cashFlows(accounts);
	return plannedAccounts(plan).map(({ code, name, type, format }) => ({
		code,
		name,
		depth: accounts.depth(code),
		type,
		format,
		leaf: accounts.isLeaf(code),
		nonCash: flows.get(code) === 'none'
	}));
}

/** Whether a plan is calculated with these adjustments: they may have been saved since. */
const isOf = ({ inputs, structure }: Plan, list: readonly AdjustmentDefinition[]): boolean =>
	JSON.stringify(inputs.now) === JSON.stringify(adjustmentsFrom(list, structure.calendar));

/** What may be tried on a plan that others read too (nanoseconds, at the worst) before anybody waits for it. */
const MOST_TRIED = 200_000_000;
/** So many adjustments are put in one after the other. */
const MOST_SWITCHED = 40;

function effectsIn(
	plan: Plan,
	adjustments: readonly Adjustment[],
	accounts: readonly KeyAccount[],
	{ department, from, to, money }: Watched
): Record<string, MeasureEffect> {
	if (adjustments.length > MOST_SWITCHED) return {};
	const { inputs, calculation } = plan;
	const before = inputs.now;
	const { result, asked } = watchedAtFirst(accounts);
	const codes = [...new Set([...(result === null ? [] : [result]), ...asked])];
	const measures = codes.map((account): Measure => ({ kind: 'account', account, department, money }));
	let tried = 0;
	const under = (list: readonly Adjustment[]): Plan => {
		inputs.use(calculation, list);
		tried += calculation.costOfChanges;
		if (tried > MOST_TRIED) throw new TooLong();
		calculation.recalculate();
		return plan;
	};
	try {
		const found = effectsOf(under, adjustments, measures, { from, to });
		return Object.fromEntries(codes.map((code, i) => [code, found[i]]));
	} catch (e) {
		if (e instanceof TooLong) return {};
		throw e;
	} finally {
		inputs.use(calculation, before);
		calculation.recalculate();
	}
}
class TooLong extends Error {}
