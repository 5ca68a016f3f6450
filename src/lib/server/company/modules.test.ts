/** Parts of the product: switched off only while they hold nothing, and closed then. */
import type { Knex } from 'knex';
import { afterEach, expect, it } from 'vitest';
import { DEMO, loaded, PRAXIS, refusedIn, userOf } from '../../../../tests/support/company';
import { Module } from '../../core/company/modules';
import type { User } from '../platform/auth/sessions';
import { refusalOf } from '../platform/refusal';
import { readFolder } from '../transfer/folder';
import { readCompany } from './subjects';
import { changeScenario } from '../scenarios/list';
import { copyScenario } from '../scenarios/making';
import { addEntity } from '../setup/entities';
import { mustBeOn, readModules, switchModule } from './modules';

let db: Knex;
let user: User;
const begin = async (folder: string, who: string) => {
	db = await loaded(folder);
	user = await userOf(db, who);
};
afterEach(() => db.destroy());
const off = (module: Module) => switchModule({ db, user }, { module, on: false });

it('stay on while something of them is kept, and say what', async () => {
	await begin(DEMO, 'maren');
	const states = await readModules({ db, user });
	expect(Object.fromEntries(states.map((m) => [m.code, m.held]))).toEqual({
		currencies: '1 legal entity counts in another currency',
		combinations: expect.stringMatching(/^\d+ rules? (is|are) there$/) as string,
		seasonality: '',
		targets: '1 scenario holds targets',
		collecting: '1 round is kept',
		'what-ifs': expect.stringMatching(/^3 adjustments lie on scenarios$/) as string
	});
	for (const { code, held } of states.filter((m) => m.held)) {
		const refusal = await refusedIn(db, off(code));
		expect(refusal.status).toBe(422);
		expect(refusal.message).toContain(held);
	}
});

it('are closed once they are off, in whatever would bring them in, and open again', async () => {
	await begin(PRAXIS, 'ana');
	const scenario = (await db('scenario').whereNot({ kind: 'actuals' }).first('code'))!.code as string;
	const closed = async (work: Promise<unknown>, name: string) => {
		const refusal = await refusedIn(db, work);
		expect(refusal.status).toBe(404);
		expect(refusal.message).toMatch(new RegExp(`^“${name}” is switched off`));
	};
	const held = new Set((await readModules({ db, user })).filter((m) => m.held).map((m) => m.code));
	for (const module of Module.options.filter((m) => !held.has(m))) {
		await off(module);
		await expect(mustBeOn({ db, user }, module)).rejects.toMatchObject({ status: 404 });
	}
	expect(held.has('targets') || held.has('currencies') || held.has('what-ifs')).toBe(false);
	await closed(copyScenario({ db, user }, scenario, 'Wanted', 'target'), 'Targets');
	await closed(copyScenario({ db, user }, scenario, 'Perhaps', 'what-if'), 'What-ifs');
	await closed(changeScenario({ db, user }, scenario, { target: scenario }), 'Targets');
	await closed(addEntity({ db, user }, { name: 'Praxis Ost', currency: 'EUR' }), 'Several currencies');
	await addEntity({ db, user }, { name: 'Praxis West' });
	await switchModule({ db, user }, { module: 'targets', on: true });
	await copyScenario({ db, user }, scenario, 'Wanted', 'target');
	expect((await db('journal').where({ kind: 'module' }).orderBy('id')).at(-1)).toMatchObject({
		subject: 'module/targets',
		before: 'off',
		after: 'on'
	});
});

it('are switched by analysts alone', async () => {
	await begin(DEMO, 'tom');
	await expect(switchModule({ db, user }, { module: 'seasonality', on: false })).rejects.toMatchObject({
		status: 403
	});
});

it('cannot be off in a company folder that holds something of them', () => {
	const offIn = (module: Module) => {
		const files = readFolder(DEMO);
		const company = { ...JSON.parse(files.get('company.json')!), off: [module] };
		return readCompany(new Map([...files, ['company.json', JSON.stringify(company)]]));
	};
	expect(offIn('seasonality').company.off).toEqual(['seasonality']);
	for (const module of ['currencies', 'combinations', 'targets', 'collecting', 'what-ifs'] as const) {
		let faults: unknown;
		try {
			offIn(module);
		} catch (e) {
			faults = refusalOf(e)?.faults;
		}
		expect(faults).toMatchObject([
			{
				file: 'company.json',
				column: 'off',
				message: expect.stringContaining(`“${module}” is off, and`) as string
			}
		]);
	}
});
