/** What of a scenario's schedules is kept from a user: what single people earn, from all who may not see that. */
import type { Knex } from 'knex';
import { isPersonal, ownerOf, personalIn, type Personal } from '../../core/blocks/schedule/personal';
import type { ScheduleDefinition } from '../../core/blocks/schedule/schema';
import type { Structure } from '../../core/company/structure';
import { may } from '../platform/auth/policy';
import type { User } from '../platform/auth/sessions';
import type { Context } from '../platform/context';
import { Refusal } from '../platform/refusal';
import { companyState } from '../company/structure';
import { scenarioForms } from './plan-data';

/** By schedule, columns and lines that are not for this user; empty for who may see individual pay. */
export function keptFrom(
	user: User,
	definitions: Iterable<ScheduleDefinition>,
	{ departments }: Pick<Structure, 'departments'>
): Personal {
	return may(user, 'see individual pay', departments) ? NOTHING : personalIn([...definitions]);
}
const NOTHING: Personal = new Map();

/** The same for a scenario as it is kept. */
export async function keptFromIn({ db, user }: Context<Knex>, scenario: string): Promise<Personal> {
	const { structure } = await companyState(db);
	const { schedules } = await scenarioForms(db, scenario);
	return keptFrom(
		user,
		schedules.map((s) => s.definition),
		structure
	);
}

/** @throws Refusal 403 for the first of these cells that is kept from the user */
export function mustBeOpen(personal: Personal, cells: Iterable<{ block: string; line: string }>): void {
	for (const { block, line } of cells)
		if (isPersonal(personal, block, line))
			throw new Refusal(
				403,
				`“${line}” of “${ownerOf(block)}” tells what single people earn, which you may not see or change. Somebody who sees individual pay can.`
			);
}

/**
 * Schedules of which adjustments are not for this user: those that tell what is kept from them, and all of them for who does not
 * see rows. What they calculate with holds what the rows come to.
 */
export function closedTo(
	user: User,
	definitions: readonly ScheduleDefinition[],
	structure: Pick<Structure, 'departments'>
): Personal {
	if (may(user, 'see schedules', structure.departments)) return keptFrom(user, definitions, structure);
	return new Map(definitions.map((d) => [d.code, new Set(d.columns.map((c) => c.code))]));
}
/** The same for a scenario as it is kept. */
export async function closedToIn({ db, user }: Context<Knex>, scenario: string): Promise<Personal> {
	const { structure } = await companyState(db);
	const { schedules } = await scenarioForms(db, scenario);
	return closedTo(
		user,
		schedules.map((s) => s.definition),
		structure
	);
}

/** Blocks that something is about, however much else it holds. */
interface AboutLines {
	steps: readonly { lines: readonly { block: string }[] }[];
}
/**
 * Whether an adjustment changes a schedule that is closed: from what it says, and what comes of it, pay could be worked out.
 */
export const adjustsClosed = ({ steps }: AboutLines, closed: Personal): boolean =>
	steps.some((step) => step.lines.some((l) => closed.has(ownerOf(l.block))));

/** @throws Refusal 403 for one that changes what is kept from the user */
export function mustAdjustOpenly(adjustment: AboutLines & { name: string }, closed: Personal): void {
	if (adjustsClosed(adjustment, closed))
		throw new Refusal(
			403,
			'Adjustments of a schedule that tells what single people earn are made and switched by those who see individual pay. You can change its open columns in the rows of the scenario.'
		);
}
