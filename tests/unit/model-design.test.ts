/** Making and changing driver models on the demo, below the interface. */
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { ModelDefinition } from '../../src/lib/core/blocks/driver-model/schema';
import { MODEL_TEMPLATES } from '../../src/lib/core/blocks/driver-model/templates';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { changeAdjustments } from '../../src/lib/server/changes/adjustments';
import { readCompany, readStored, writeCompany } from '../../src/lib/server/company/subjects';
import { readDepartmentPlan, saveBasis } from '../../src/lib/server/accounts/department-plan';
import { savesOf, undoSave } from '../../src/lib/server/changes/history';
import { changeModel, createModel, designOf, type Displaced } from '../../src/lib/server/models/design';
import { addMember, changeMember, removeMember } from '../../src/lib/server/models/members';
import { copyScenario } from '../../src/lib/server/scenarios/making';
import { deleteScenario, restoreScenario } from '../../src/lib/server/scenarios/list';
import { addRows, removeRows } from '../../src/lib/server/models/rows';
import { readModel } from '../../src/lib/server/models/models';
import { planOf } from '../../src/lib/server/scenarios/plans';
import {
	contentOf,
	DEMO,
	DESIGN,
	headOf,
	loaded,
	rowsUnder,
	totalOf,
	refusedIn,
	userOf,
	typeInModel
} from '../support/company';

const APR27 = 2027 * 12 + 3;
const BUDGET = 'fy28-budget';
let db: Knex;
let maren: User;

beforeEach(async () => {
	db = await loaded(DEMO);
	maren = await userOf(db, 'maren');
});
afterEach(() => db.destroy());

const refused = (work: Promise<unknown>) => refusedIn(db, work, DESIGN);
const view = (model: string, open: string[] = [], scenario = BUDGET) =>
	readModel({ db, user: maren }, { scenario, model, from: APR27, to: APR27 + 11, open });
const change = async (model: string, make: (d: ModelDefinition) => ModelDefinition | null, drop = false) => {
	const { definition, version } = await designOf({ db, user: maren }, BUDGET, model);
	return changeModel(
		{ db, user: maren },
		{ scenarios: [BUDGET], model, version, definition: make(definition), drop }
	);
};
const plan = async (account: string, department: string) =>
	(await readDepartmentPlan({ db, user: maren }, BUDGET, department, APR27, APR27 + 11)).rows.find(
		(r) => r.account === account
	)!;

describe('a new model', () => {
	it('from each template calculates at once, with and without dimensions', async () => {
		for (const template of MODEL_TEMPLATES)
			for (const dimensions of [[], ['region']]) {
				const code = await createModel(
					{ db, user: maren },
					{
						scenarios: [BUDGET],
						name: `${template.name} ${dimensions.length}`,
						description: '',
						from: { kind: 'template', template: template.code, dimensions },
						rows: { kind: 'all' }
					}
				);
				const made = await view(code);
				expect(made.rows.map((r) => r.label)).toEqual(template.lines.map((l) => l.label));
				expect(made.rowCount).toBe(dimensions.length ? 4 : 1);
				expect(made.errors).toBe(0);
			}
	});
	it('takes what is typed, posts it to an account, and is in the department’s plan', async () => {
		const code = await createModel(
			{ db, user: maren },
			{
				scenarios: [BUDGET],
				name: 'Jobs at the yard',
				description: 'Refit jobs.',
				from: { kind: 'template', template: 'service', dimensions: ['region'] },
				rows: { kind: 'all' }
			}
		);
		expect(code).toBe('jobs_at_the_yard');
		await typeInModel(
			{ db, user: maren },
			BUDGET,
			code,
			(
				[
					['jobs', 10],
					['hours_per_job', 8],
					['cost_rate', 31.5]
				] as const
			).map(([line, value]) => ({ line, row: 'lakes', period: APR27, before: null, value }))
		);
		const made = await view(code);
		expect(headOf(made, 'hours').cells[0]).toBe(80);
		expect(headOf(made, 'cost').cells[0]).toBe(2520);
		const free = (
			await readDepartmentPlan({ db, user: maren }, BUDGET, 'refit-yard', APR27, APR27 + 11)
		).rows.find((r) => r.leaf && r.origin?.kind === 'basis' && r.cells.every((c) => c === null));
		const account = free?.account ?? '6240';
		await change(code, (d) => ({
			...d,
			postings: [{ line: 'cost', account: { code: account }, department: { code: 'refit-yard' }, where: {} }]
		}));
		expect((await plan(account, 'refit-yard')).cells[0]).toBe(2520);
	});
	it('is copied with or without figures, and posts nothing twice', async () => {
		const p = await planOf(db, BUDGET);
		const before = JSON.stringify([...p.calculation.matrix('accounts', '4010').values]);
		const like = { scenarios: [BUDGET], description: '', rows: { kind: 'none' } as const };
		const full = await createModel(
			{ db, user: maren },
			{
				...like,
				name: 'Sales, cautious',
				from: { kind: 'copy', model: 'boat_sales', withValues: true }
			}
		);
		const empty = await createModel(
			{ db, user: maren },
			{
				...like,
				name: 'Sales, anew',
				from: { kind: 'copy', model: 'boat_sales', withValues: false }
			}
		);
		const revenue = totalOf(headOf(await view('boat_sales'), 'revenue'));
		expect(totalOf(headOf(await view(full), 'revenue'))).toBe(revenue);
		expect(totalOf(headOf(await view(empty), 'revenue'))).toBe(0);
		expect((await view(full)).definition.postings).toEqual([]);
		const after = await planOf(db, BUDGET);
		expect(JSON.stringify([...after.calculation.matrix('accounts', '4010').values])).toBe(before);
	});
	it('has rows like another model’s, and stays out of other scenarios, also in the company folder', async () => {
		const code = await createModel(
			{ db, user: maren },
			{
				scenarios: [BUDGET],
				name: 'By place',
				description: '',
				from: { kind: 'blank', dimensions: ['region', 'channel'] },
				rows: { kind: 'like', model: 'boat_sales' }
			}
		);
		const rows = (await db('model_row').where({ model: code }).pluck('row')) as string[];
		const sold = (await db('model_row').where({ model: 'boat_sales' }).pluck('row')) as string[];
		expect(new Set(rows)).toEqual(new Set(sold.map((r) => `${r.split('|')[2]}|${r.split('|')[1]}`)));
		expect((await planOf(db, 'fy27-forecast-6-6')).models.has(code)).toBe(false);
		const stored = await readStored(db);
		const folder = writeCompany(stored);
		expect(readCompany(folder)).toEqual(stored);
		expect(
			folder
				.get('scenarios.csv')!
				.split('\n')
				.find((l) => l.startsWith('fy27-forecast-6-6'))
		).toMatch(/,by_place,,\r?$/);
	});
	it('is refused for a name in use, a locked scenario, and by those who are no analysts', async () => {
		const wanted = {
			scenarios: [BUDGET],
			name: 'Boat sales',
			description: '',
			from: { kind: 'blank', dimensions: [] },
			rows: { kind: 'none' }
		} as const;
		expect((await refused(createModel({ db, user: maren }, wanted))).status).toBe(409);
		const locked = createModel(
			{ db, user: maren },
			{ ...wanted, name: 'New', scenarios: [BUDGET, 'fy27-budget'] }
		);
		expect((await refused(locked)).message).toMatch(/locked/);
		const tom = await userOf(db, 'tom');
		expect((await refused(createModel({ db, user: tom }, { ...wanted, name: 'New' }))).status).toBe(403);
	});
});

describe('changing a model', () => {
	it('adds a line that uses others, and takes it back as a save', async () => {
		const before = await contentOf(db, ['scenario_model', 'series']);
		await change('boat_sales', (d) => ({
			...d,
			lines: [
				...d.lines,
				{
					...d.lines[0],
					code: 'freight',
					label: 'Freight',
					closed: 'blank',
					formula: 'units * 12',
					format: 'money'
				}
			]
		}));
		const view1 = await view('boat_sales');
		expect(totalOf(headOf(view1, 'freight'))).toBeCloseTo(
			12 * (totalOf(headOf(view1, 'units')) as number),
			6
		);
		const [save] = await savesOf({ db, user: maren }, BUDGET);
		expect(save).toMatchObject({ kind: 'model', undoable: true });
		expect(save.changes[0].why).toBe('line Freight added');
		await undoSave({ db, user: maren }, BUDGET, save.batch);
		expect(await contentOf(db, ['scenario_model', 'series'])).toBe(before);
	});
	it('says which typed figures would have no place, takes them out when told, and brings them back', async () => {
		const before = await contentOf(db, ['scenario_model', 'series']);
		const calculated = (d: ModelDefinition) => ({
			...d,
			lines: d.lines.map((l) => (l.code === 'discount' ? { ...l, formula: '0.1' } : l))
		});
		const error = await refused(change('boat_sales', calculated));
		const [displaced] = error.data as Displaced[];
		expect(displaced).toMatchObject({ scenario: BUDGET, line: 'discount', label: 'Discount' });
		expect(displaced.cells).toBeGreaterThan(155);
		await change('boat_sales', calculated, true);
		expect(await db('series').where({ scenario: BUDGET, block: 'boat_sales', line: 'discount' })).toEqual([]);
		expect(rowsUnder(await view('boat_sales', ['discount']), 'discount')[0].cells[0]).toBe(0.1);
		const [save] = await savesOf({ db, user: maren }, BUDGET);
		await undoSave({ db, user: maren }, BUDGET, save.batch);
		expect(await contentOf(db, ['scenario_model', 'series'])).toBe(before);
	});
	it('has other formulas for some members and months, and cells among them that are typed', async () => {
		const typedAt = { line: 'visits', row: 'lakes', before: null };
		await change('dealer_visits', (d) => ({
			...d,
			lines: d.lines.map((l) =>
				l.code === 'visits'
					? {
							...l,
							scoped: [
								{ where: { region: 'lakes' }, from: '2027-06', to: '2027-07' },
								{ where: { region: 'lakes' }, formula: 'units * 2' },
								{ where: {}, to: '2027-04', formula: '7' }
							]
						}
					: l
			)
		}));
		const rows = rowsUnder(await view('dealer_visits', ['visits']), 'visits');
		const units = rowsUnder(await view('dealer_visits', ['units']), 'units');
		const [lakes, south] = ['Lakes', 'South Coast'].map((n) => rows.findIndex((r) => r.label === n));
		expect(rows[lakes].cells[0]).toBe(2 * (units[lakes].cells[0] as number));
		expect(rows[lakes].cells[2]).toBeNull();
		expect(rows[south].cells[0]).toBe(7);
		expect(rows[south].cells[1]).not.toBe(7);
		const type = (period: number) =>
			typeInModel({ db, user: maren }, BUDGET, 'dealer_visits', [{ ...typedAt, period, value: 44 }]);
		expect((await refused(type(APR27 + 4))).message).toMatch(/calculated/);
		await type(APR27 + 2);
		expect(rowsUnder(await view('dealer_visits', ['visits']), 'visits')[lakes].cells[2]).toBe(44);
		const stored = await readStored(db);
		expect(readCompany(writeCompany(stored))).toEqual(stored);
	});
	it('is refused with each mistake at its place, and nothing changes', async () => {
		const faults = await refused(
			change('boat_sales', (d) => ({
				...d,
				lines: d.lines.map((l) => (l.code === 'revenue' ? { ...l, formula: 'units * prise' } : l)),
				postings: [
					{
						line: 'freight',
						account: { code: '4' },
						department: { attribute: 'size.code' },
						where: { channel: 'sea' }
					}
				],
				proofs: [{ name: 'P', line: 'units', where: {}, first: '2027/04', expected: [1], tolerance: 0 }]
			}))
		);
		expect(faults.faults.map((f) => f.column)).toEqual([
			'lines.units.closed',
			'lines.revenue.closed',
			'lines.revenue.formula',
			'lines.material.closed',
			'postings.line',
			'postings.account',
			'postings.department',
			'postings.where',
			'proofs.1.first'
		]);
		expect(faults.faults.find((f) => f.column === 'lines.revenue.formula')?.span).toEqual({
			from: 8,
			to: 13
		});
		const circle = change('boat_sales', (d) => ({
			...d,
			lines: d.lines.map((l) => (l.code === 'material' ? { ...l, formula: 'margin / 2' } : l))
		}));
		expect((await refused(circle)).message).toMatch(/margin/);
		const gone = change(
			'boat_sales',
			(d) => ({ ...d, lines: d.lines.filter((l) => l.code !== 'units') }),
			true
		);
		expect((await refused(gone)).faults.length).toBeGreaterThan(2);
	});
	it('is refused where other models, bases and adjustments use what would go', async () => {
		const without = (line: string) => (d: ModelDefinition) => ({
			...d,
			lines: d.lines.filter((l) => l.code !== line),
			postings: d.postings.filter((p) => p.line !== line)
		});
		expect((await refused(change('assumptions', () => null, true))).message).toMatch(/assumptions/);
		await saveBasis({ db, user: maren }, BUDGET, 'dealer-sales', '6240', {
			kind: 'driver',
			driver: 'harbour_club.joiners',
			rate: 2
		});
		expect((await refused(change('harbour_club', () => null, true))).message).toMatch(
			/harbour_club\.joiners/
		);
		await changeAdjustments({ db, user: maren }, BUDGET, {
			action: 'put',
			adjustment: {
				code: 'a',
				name: 'Longer orders',
				on: false,
				adopted: null,
				steps: [
					{
						operation: 'add',
						value: 1,
						lines: [{ block: 'dealer_visits', line: 'cost_per_visit' }],
						where: {}
					}
				]
			}
		});
		const visits = change(
			'dealer_visits',
			(d) => {
				const less = without('cost_per_visit')(d);
				return {
					...less,
					lines: less.lines.map((l) => (l.code === 'travel' ? { ...l, formula: 'visits * 5' } : l))
				};
			},
			true
		);
		expect((await refused(visits)).message).toMatch(/“Longer orders”/);
	});
	it('does not overwrite what somebody else has changed meanwhile', async () => {
		const { definition, version } = await designOf({ db, user: maren }, BUDGET, 'harbour_club');
		await change('harbour_club', (d) => ({ ...d, description: 'Theirs.' }));
		const mine = { ...definition, description: 'Mine.' };
		const late = changeModel(
			{ db, user: maren },
			{
				scenarios: [BUDGET],
				model: 'harbour_club',
				version,
				definition: mine,
				drop: false
			}
		);
		expect((await refused(late)).status).toBe(409);
	});
	it('keeps code and dimensions, for typed figures rest on them', async () => {
		expect((await refused(change('boat_sales', (d) => ({ ...d, code: 'other' })))).message).toMatch(/code/);
		expect((await refused(change('dealer_visits', (d) => ({ ...d, dimensions: [] })))).message).toMatch(
			/dimensions/
		);
	});
	it('takes a model out and brings it back with all its figures', async () => {
		const before = await contentOf(db, ['scenario_model', 'series']);
		expect((await refused(change('dealer_visits', () => null))).data).toHaveLength(4);
		await change('dealer_visits', () => null, true);
		expect((await planOf(db, BUDGET)).models.has('dealer_visits')).toBe(false);
		const [save] = await savesOf({ db, user: maren }, BUDGET);
		await undoSave({ db, user: maren }, BUDGET, save.batch);
		expect(await contentOf(db, ['scenario_model', 'series'])).toBe(before);
	});
});

describe('a company', () => {
	it('is saved and loaded after a model has left its only scenario, or its only scenario is gone', async () => {
		const again = async () => {
			return readCompany(writeCompany(await readStored(db))).models.map((m) => m.definition.code);
		};
		const blank = {
			description: '',
			from: { kind: 'blank' as const, dimensions: ['region'] },
			rows: { kind: 'all' as const }
		};
		const own = await createModel({ db, user: maren }, { ...blank, scenarios: [BUDGET], name: 'Alone' });
		expect(await again()).toContain(own);
		await change(own, () => null);
		expect(await again()).not.toContain(own);
		const copy = await copyScenario({ db, user: maren }, BUDGET, 'For a while', 'what-if');
		const other = await createModel({ db, user: maren }, { ...blank, scenarios: [copy], name: 'Elsewhere' });
		await deleteScenario({ db, user: maren }, copy);
		expect(await again()).not.toContain(other);
		await restoreScenario({ db, user: maren }, copy);
		expect(await again()).toContain(other);
	});
	it('has no model over a dimension that is not there, or over one twice', async () => {
		for (const dimensions of [['colour'], ['region', 'region']])
			expect(
				(
					await refused(
						createModel(
							{ db, user: maren },
							{
								scenarios: [BUDGET],
								name: 'x',
								description: '',
								from: { kind: 'blank', dimensions },
								rows: { kind: 'none' }
							}
						)
					)
				).status
			).toBe(422);
	});
	it('keeps the attributes and members that its formulas, postings and adjustments speak of', async () => {
		const rise = {
			code: 'r',
			name: 'Islands dearer',
			on: false,
			adopted: null,
			steps: [
				{
					operation: 'multiply' as const,
					value: 1.1,
					lines: [{ block: 'boat_sales', line: 'list_price' }],
					where: { region: 'spare' }
				}
			]
		};
		await addMember(
			{ db, user: maren },
			{
				dimension: 'region',
				code: 'spare',
				name: 'Spare',
				parent: null,
				attributes: {}
			}
		);
		await changeAdjustments({ db, user: maren }, BUDGET, { action: 'put', adjustment: rise });
		expect((await refused(removeMember({ db, user: maren }, 'region', 'spare'))).message).toMatch(
			/named by the adjustment “Islands dearer”/
		);
		await changeAdjustments({ db, user: maren }, BUDGET, { action: 'remove', code: 'r' });
		await removeMember({ db, user: maren }, 'region', 'spare');
		// A formula over an attribute that its last member loses.
		await changeMember({ db, user: maren }, 'product', 'kayaks', {
			attributes: { revenue_account: '4010', material_account: '5010', warranty: '0.02' }
		});
		await change('boat_sales', (d) => ({
			...d,
			lines: [
				...d.lines,
				{
					...d.lines[0],
					code: 'set_aside',
					label: 'Set aside',
					formula: 'units * product.warranty',
					closed: 'blank'
				}
			]
		}));
		expect(
			(
				await refused(
					changeMember({ db, user: maren }, 'product', 'kayaks', {
						attributes: { revenue_account: '4010', material_account: '5010' }
					})
				)
			).message
		).toMatch(/“FY28 Budget” could not be calculated any more: .*no attribute “warranty”/);
	});
});

describe('a model by department alone', () => {
	it('shows what the ledger holds on each department’s account in closed months, tagged or not', async () => {
		const code = await createModel(
			{ db, user: maren },
			{
				scenarios: [BUDGET],
				name: 'Wages',
				description: '',
				from: { kind: 'blank', dimensions: ['department'] },
				rows: { kind: 'all' }
			}
		);
		await change(code, (d) => ({
			...d,
			lines: [{ ...d.lines[0], closed: 'actuals' }],
			postings: [
				{
					line: 'amount',
					account: { code: '6240' },
					department: { attribute: 'department.code' },
					where: {}
				}
			]
		}));
		const { calculation } = await planOf(db, BUDGET);
		const rows = calculation.block(code).rows.map(([department]) => department);
		const entries = (await db('ledger_entry')
			.join('ledger_account', 'ledger_account.code', 'ledger_entry.ledger_account')
			.where({ account: '6240', period: 2026 * 12 + 8 })
			.select('department', 'amount')) as { department: string; amount: number }[];
		expect(entries.length).toBeGreaterThan(0);
		for (const [r, department] of rows.entries()) {
			const own = entries.filter((e) => e.department === department);
			const shown = calculation.cell(code, 'amount', r, 2026 * 12 + 8);
			if (own.length)
				expect(shown).toBeCloseTo(
					own.reduce((sum, e) => sum + e.amount, 0),
					6
				);
			else expect(shown).toBeNull();
		}
	});
});

describe('rows', () => {
	it('are added blank in every scenario, and taken out while nothing is typed in them', async () => {
		const before = totalOf(headOf(await view('boat_sales'), 'revenue'));
		const row = ['sail-set', 'direct', 'islands'];
		expect((await addRows({ db, user: maren }, 'boat_sales', [row, row])).rows).toBe(1);
		expect((await addRows({ db, user: maren }, 'boat_sales', [row])).rows).toBe(0);
		expect(totalOf(headOf(await view('boat_sales'), 'revenue'))).toBe(before);
		const [line, key] = ['units', row.join('|')];
		await typeInModel({ db, user: maren }, BUDGET, 'boat_sales', [
			{ line, row: key, period: APR27, before: null, value: 3 }
		]);
		expect((await refused(removeRows({ db, user: maren }, 'boat_sales', [row]))).message).toMatch(
			/“FY28 Budget”/
		);
		await typeInModel({ db, user: maren }, BUDGET, 'boat_sales', [
			{ line, row: key, period: APR27, before: 3, value: null }
		]);
		expect(await removeRows({ db, user: maren }, 'boat_sales', [row])).toBe(1);
	});
	it('are refused for totals, unknown members, and where a locked scenario would change', async () => {
		expect(
			(await refused(addRows({ db, user: maren }, 'boat_sales', [['kayaks', 'web', 'lakes']]))).message
		).toMatch(/total/);
		expect(
			(await refused(addRows({ db, user: maren }, 'boat_sales', [['x', 'web', 'lakes']]))).message
		).toMatch(/“x”/);
		// A formula that gives something in every row: a further row would add to what is locked.
		const fixed = (d: ModelDefinition) => ({
			...d,
			lines: d.lines.map((l) =>
				l.code === 'revenue' ? { ...l, formula: '100', closed: 'blank' as const } : l
			)
		});
		await change('boat_sales', fixed);
		await db('scenario').where({ code: BUDGET }).update({ locked: true });
		const error = await refused(
			addRows({ db, user: maren }, 'boat_sales', [['sail-set', 'direct', 'islands']])
		);
		expect(error.message).toMatch(/4030 .*“FY28 Budget”, which is locked/);
	});
});

describe('names that mean something else', () => {
	it('are no codes of models, so that History takes cells for cells', async () => {
		const code = await createModel(
			{ db, user: maren },
			{
				scenarios: [BUDGET],
				name: 'Basis',
				description: '',
				from: { kind: 'blank', dimensions: [] },
				rows: { kind: 'none' }
			}
		);
		expect(code).toBe('basis_2');
		const typed = { line: 'amount', row: '', period: APR27, before: null, value: 5 };
		await typeInModel({ db, user: maren }, BUDGET, code, [typed]);
		const [save] = await savesOf({ db, user: maren }, BUDGET);
		expect(await undoSave({ db, user: maren }, BUDGET, save.batch)).toBe(1);
		expect((await view(code)).rows[0].cells[0]).toBeNull();
		const stored = await readStored(db);
		const folder = writeCompany(stored);
		const text = folder.get('models.csv')!.replace('basis_2', 'basis');
		folder
			.set('models.csv', text)
			.set('models/basis.json', folder.get('models/basis_2.json')!.replace('basis_2', 'basis'));
		expect(() => readCompany(folder)).toThrow(/mended/);
	});
	it('of hidden scenarios are not told', async () => {
		const row = ['sail-set', 'direct', 'islands'];
		await addRows({ db, user: maren }, 'boat_sales', [row]);
		const cell = { line: 'units', row: row.join('|'), period: APR27, before: null, value: 3 };
		await typeInModel({ db, user: maren }, BUDGET, 'boat_sales', [cell]);
		await db('scenario').where({ code: BUDGET }).update({ visibility: 'people', people: '', owner: 'x' });
		const error = await refused(removeRows({ db, user: maren }, 'boat_sales', [row]));
		expect(error.message).toMatch(/a scenario that is hidden from you/);
		expect(error.message).not.toMatch(/FY28/);
	});
});
