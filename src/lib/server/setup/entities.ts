/** Legal entities: their names, and the currency in which their departments plan. */
import { mustBeOn } from '../company/modules';
import { z } from 'zod';
import { codeFor } from '../../core/company/code';
import { isCurrency } from '../../core/company/currency';
import type { Entity } from '../../core/company/schema';
import type { MovedFigures } from '../../core/views/chart-row';
import { noteCompany } from '../company/journal';
import { companyFor, touchCompany } from '../company/structure';
import { ENTITIES } from '../company/subjects/departments';
import { asOne, type Context, type Within } from '../platform/context';
import { notFound, Refusal } from '../platform/refusal';
import { namedFor, visibleScenarios } from '../scenarios/scenarios';
import { figuresOf } from './departments';
import { beginRates } from './rates';
import { Label, mustHold, trying } from './tree';

const Currency = z
	.string()
	.trim()
	.toUpperCase()
	.max(3)
	.refine(isCurrency, 'this is no currency; a code such as EUR was expected (ISO 4217)');

export const NewEntity = z.strictObject({
	name: Label,
	/** The company's, unless said otherwise. */
	currency: Currency.optional()
});
export const EntityChange = z.strictObject({
	name: Label.optional(),
	currency: Currency.optional(),
	/** Shows what would be, and changes nothing. */
	dry: z.boolean().default(false)
});

/** Adds a legal entity. @throws Refusal 409 for a name that is there */
export async function addEntity(
	context: Context,
	{ name, currency: wanted }: z.output<typeof NewEntity>
): Promise<Entity> {
	return asOne(context, async (within) => {
		const { company } = await companyFor(within, 'change departments');
		const entities = await ENTITIES.load(within.db);
		mustBeFree(entities, name, null);
		const taken = entities.map((e) => e.code);
		const currency = wanted ?? company.currency;
		if (currency !== company.currency) await mustBeOn(within, 'currencies');
		const entity = { code: codeFor(name, '-', taken, 'entity'), name, currency };
		await within.db('entity').insert({ ...entity, position: entities.length });
		await journal(within, entity.code, null, entity);
		await touchCompany(within.db);
		await beginRates(within);
		return entity;
	});
}

/**
 * Renames a legal entity, or has it count in another currency: nothing is converted, what is typed and booked in its
 * departments is read in that currency from then on.
 * @returns what that is, by scenarios that the user sees
 * @throws Refusal 404, 409 for a name that is there, 422 where a locked scenario has figures there, or formulas would
 * put currencies together
 */
export async function changeEntity(
	context: Context,
	code: string,
	{ name, currency, dry }: z.input<typeof EntityChange>
): Promise<{ moved: MovedFigures[] }> {
	const { structure } = await companyFor(context, 'change departments');
	const known = structure.entities.find((e) => e.code === code);
	if (!known) throw notFound(`The entity “${code}”`);
	const recounts = currency !== undefined && currency !== known.currency;
	if (recounts) await mustBeOn(context, 'currencies');
	const leaves = recounts ? structure.departmentRows.filter((d) => d.entity === code) : [];
	const figures: Awaited<ReturnType<typeof figuresOf>> = [];
	for (const leaf of leaves) figures.push(...(await figuresOf(context, leaf.code)));
	return trying(context, dry ?? false, async (within) => {
		const entities = await ENTITIES.load(within.db);
		const entity = entities.find((e) => e.code === code);
		if (!entity) throw notFound(`The entity “${code}”`);
		if (name !== undefined) mustBeFree(entities, name, code);
		const locked = figures.find((f) => f.scenario.locked && f.scenario.kind !== 'actuals');
		if (locked)
			throw new Refusal(
				422,
				`“${entity.name}” has figures in ${await namedFor(within, [locked.scenario.code])}, which is locked, so its currency stays. Nothing was changed. Unlock it first.`
			);
		const changed = { ...entity, name: name ?? entity.name, currency: currency ?? entity.currency };
		if (JSON.stringify(changed) === JSON.stringify(entity)) return { moved: [] };
		await within.db('entity').where({ code }).update({ name: changed.name, currency: changed.currency });
		await journal(within, code, entity, changed);
		await touchCompany(within.db);
		await beginRates(within);
		if (recounts) await mustHold(within);
		const seen = new Set((await visibleScenarios(within)).map((s) => s.code));
		return { moved: summed(figures.filter((f) => seen.has(f.scenario.code)).map((f) => f.moved)) };
	});
}

/** Of several departments, scenario by scenario. */
function summed(list: readonly MovedFigures[]): MovedFigures[] {
	const sums = new Map<string, MovedFigures>();
	for (const { scenario, currency, amount } of list) {
		const before = sums.get(scenario)?.amount ?? 0;
		sums.set(scenario, { scenario, currency, amount: amount === null ? null : before + amount });
	}
	return [...sums.values()];
}

function mustBeFree(entities: readonly Entity[], name: string, own: string | null): void {
	if (entities.some((e) => e.code !== own && e.name === name))
		throw new Refusal(409, `There is an entity “${name}” already.`);
}

const said = (e: Entity | null) => (e ? JSON.stringify(e) : '');
const journal = (within: Within, code: string, before: Entity | null, after: Entity) =>
	noteCompany(within, { what: 'entity', code }, said(before), said(after));
