/** Which parts of the product a company uses: what is switched off is out of sight, and closed. */
import type { Knex } from 'knex';
import { z } from 'zod';
import { Module, moduleName, MODULES } from '../../core/company/modules';
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

/** What a company has of each, in words; it cannot be switched off then. Deleted scenarios count: they can come back. */
async function heldIn(db: Knex, company: Company): Promise<Partial<Record<Module, string>>> {
	const held: Partial<Record<Module, string>> = {};
	const say = async (module: Module, query: Knex.QueryBuilder, one: string, many: string) => {
		const { n } = await stored.one(stored.counted, query.count({ n: '*' }).first());
		if (n && !held[module]) held[module] = `${n} ${n === 1 ? one : many}`;
	};
	await say('collecting', db('round'), 'round is kept', 'rounds are kept');
	await say(
		'targets',
		db('scenario').where({ kind: 'target' }),
		'scenario holds targets',
		'scenarios hold targets'
	);
	await say('what-ifs', db('adjustment'), 'adjustment lies on a scenario', 'adjustments lie on scenarios');
	await say(
		'what-ifs',
		db('scenario').where({ kind: 'what-if' }),
		'scenario is a what-if',
		'scenarios are what-ifs'
	);
	await say('combinations', db('combination_rule'), 'rule is there', 'rules are there');
	await say('seasonality', db('profile'), 'profile is there', 'profiles are there');
	const { currency } = company;
	await say(
		'currencies',
		db('entity').whereNot({ currency }),
		`legal entity counts in another currency than ${currency}`,
		`legal entities count in another currency than ${currency}`
	);
	await say(
		'currencies',
		db('rate_set'),
		'set of exchange rates is there',
		'sets of exchange rates are there'
	);
	return held;
}

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
