/** What the what-if page shows of a scenario. */
import { maySeeBlock } from './seen-blocks';
import { adjustsClosed, closedTo } from './individual-pay';
import type { AdjustableLine } from '../../core/blocks/block';
import { ownerOf } from '../../core/blocks/schedule/personal';
import { cashFlows } from '../../core/company/cash-flow';
import type { KeyAccount } from '../../core/statements/key-figures';
import type { AdjustmentDefinition } from '../../core/inputs/schema';
import type { NumberFormat } from '../../core/company/schema';
import { treeOf } from '../../core/company/structure';
import { may } from '../platform/auth/policy';
import { readAdjustmentsOf } from '../company/subjects/scenario/adjustments';
import { plannedAccounts } from '../../core/views/plan-rows';
import { planOf } from './plans';
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
}

export async function readWhatIf(context: Context, scenario: string): Promise<WhatIfView> {
	const { db, user } = context;
	const { structure } = await companyFor(context, 'see driver models');
	await mustSee(context, scenario);
	const plan = await planOf(db, scenario);
	const { accounts } = structure;
	const planned = plannedAccounts(plan);
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
	const flows = cashFlows(accounts);
	const reason = !may_
		? 'Your role may try adjustments here; nothing is kept.'
		: plan.scenario.kind === 'actuals'
			? 'Actuals cannot be adjusted.'
			: plan.scenario.locked
				? `“${plan.scenario.name}” is locked: adjustments can be tried here, and nothing is kept.`
				: '';
	const closed = closedTo(
		user,
		[...plan.schedules.values()].map((s) => s.definition),
		structure
	);
	const all = await readAdjustmentsOf(db, scenario);
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
		accounts: planned.map((a) => ({
			code: a.code,
			name: a.name,
			depth: accounts.depth(a.code),
			type: a.type,
			format: a.format,
			leaf: accounts.isLeaf(a.code),
			nonCash: flows.get(a.code) === 'none'
		})),
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
		reason
	};
}
