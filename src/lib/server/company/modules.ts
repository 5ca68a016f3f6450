/** Which parts of the product a company uses: what is switched off is out of sight, and closed. */
import type { Knex } from 'knex';
import { z } from 'zod';
import { heldBy, Module, moduleName, MODULES, type ModuleCounts } from '../../core/company/modules';
import type { Company } from '../../core/company/schema';
import { asOne, type Context } from '../platform/context';
import { Refusal } from '../platform/refusal';
import * as stored from '../platform/db/stored';
import { noteCompany } from './journal';
import { companyFor, companyState, touchCompany } from './structure';

export const isOff = ({ off }: Company, module: Module): boolean => off?.includes(module) ?? false;

/** @throws Refusal 404 where it is switched off */
export async function mustBeOn({ db }: Context, module: Module): Promise<void> {
	const { company } = await companyState(db);
	if (isOff(company, module))
		throw new Refusal(
			404,
			`“${moduleName(module)}” is switched off. An analyst can switch it on under Set up, Company.`
		);
}

/** What a company has of each part. Deleted scenarios count: they can come back. */
async function countsIn(db: Knex, { currency }: Company): Promise<ModuleCounts> {
	const count = async (query: Knex.QueryBuilder) =>
		(await stored.one(stored.counted, query.count({ n: '*' }).first())).n;
	return {
		rounds: await count(db('round')),
		targetScenarios: await count(db('scenario').where({ kind: 'target' })),
		adjustments: await count(db('adjustment')),
		whatIfs: await count(db('scenario').where({ kind: 'what-if' })),
		rules: await count(db('combination_rule')),
		profiles: await count(db('profile')),
		foreignEntities: await count(db('entity').whereNot({ currency })),
		rateSets: await count(db('rate_set'))
	};
}
const heldIn = async (db: Knex, company: Company) => heldBy(await countsIn(db, company));

export interface ModuleState {
	code: Module;
	name: string;
	says: string;
	on: boolean;
	/** Why it cannot be switched off; empty where it can. */
	held: string;
}

export async function readModules(context: Context): Promise<ModuleState[]> {
	const { company } = await companyFor(context, 'change the company');
	const held = await heldIn(context.db, company);
	return MODULES.map((m) => ({ ...m, on: !isOff(company, m.code), held: held[m.code] ?? '' }));
}

export const ModuleChange = z.strictObject({ module: Module, on: z.boolean() });

/** Switches a part on or off. @throws Refusal 422 where something of it is kept */
export async function switchModule(
	context: Context,
	{ module, on }: z.output<typeof ModuleChange>
): Promise<void> {
	await asOne(context, async (within) => {
		const { company } = await companyFor(within, 'change the company');
		if (isOff(company, module) !== on) return;
		const held = on ? undefined : (await heldIn(within.db, company))[module];
		if (held)
			throw new Refusal(422, `“${moduleName(module)}” stays on: ${held}. Take out what is there first.`);
		const off = (company.off ?? []).filter((m) => m !== module).concat(on ? [] : [module]);
		await within.db('company').update({ modules_off: JSON.stringify(off.sort()) });
		await touchCompany(within.db);
		await noteCompany(within, { what: 'module', code: module }, on ? 'off' : 'on', on ? 'on' : 'off');
	});
}
