/** Departments and entities, changed in the open: added, renamed, moved, taken out; all scenarios follow, or nothing happens. */
import { z } from 'zod';
import { codeFor } from '../../core/company/code';
import { moved } from '../../core/company/move';
import type { Department, Entity } from '../../core/company/schema';
import { isBalance } from '../../core/company/sign';
import { currencyIn, moneyView, ratesIn } from '../../core/currency/view';
import { totalsOf } from '../../core/statements/totals';
import type { MovedFigures } from '../../core/views/chart-row';
import type { DepartmentRow } from '../../core/views/department-row';
import { noteCompany } from '../company/journal';
import { companyFor, companyState, touchCompany } from '../company/structure';
import { ENTITIES } from '../company/subjects/departments';
import type { ListedScenario } from '../company/subjects/scenarios';
import { activeUsers, allUsers } from '../platform/auth/sessions';
import { asOne, type Context, type Within } from '../platform/context';
import * as stored from '../platform/db/stored';
import { notFound, Refusal } from '../platform/refusal';
import { planOf } from '../scenarios/plans';
import { keepingToThoseWhoSee } from '../scenarios/rests-on';
import { listScenarios, namedFor, visibleScenarios } from '../scenarios/scenarios';
import { comparable, isFigure, movedIn, ownMonths } from './figures';
import {
	inPlace,
	Label,
	linesOf,
	mustBeAsSeen,
	mustHold,
	notedCells,
	putTree,
	readCells,
	trying,
	TypedText
} from './tree';

export const NewDepartments = z.strictObject({
	/** The department that they lie under. */
	parent: z.string().max(64),
	/** One a line, indented under another. */
	outline: z.string().min(1, 'no department is named').max(300_000),
	/** Theirs; the one of what they lie under, unless said otherwise. */
	entity: z.string().max(64).optional(),
	/** Shows what would be, and changes nothing. */
	dry: z.boolean().default(false)
});
export const DepartmentChange = z.strictObject({
	name: Label.optional(),
	parent: z.string().max(64).optional(),
	/** The department under the same one that it stands before; null is the last place. */
	before: z.string().max(64).nullable().optional(),
	entity: z.string().max(64).optional(),
	dry: z.boolean().default(false)
});

/** What can be typed of many departments at once. */
export const DepartmentCells = z.strictObject({
	cells: z
		.array(
			z.strictObject({
				department: z.string().max(64),
				column: DepartmentChange.pick({ name: true, entity: true }).keyof(),
				/** What the writer saw there. */
				before: TypedText,
				value: TypedText
			})
		)
		.min(1)
		.max(5000),
	/** Says what would move, and changes nothing. */
	dry: z.boolean().default(false)
});

export async function readDepartmentsOf(
	context: Context
): Promise<{ departments: DepartmentRow[]; entities: Entity[] }> {
	const { structure } = await companyFor(context, 'change departments');
	const { departments } = structure;
	const users = await activeUsers(context.db);
	const named = (code: string, role: string) =>
		users.filter((u) => u.role === role && u.departments.includes(code)).map((u) => u.name);
	const { db } = context;
	const holding = new Set([
		...(await stored.texts(db('ledger_key').distinct().pluck('department'))),
		...(await stored.texts(db('series').where({ block: 'accounts' }).distinct().pluck('row'))),
		...(await stored.texts(db('basis').distinct().pluck('department'))),
		...(await stored.texts(db('submission').distinct().pluck('department')))
	]);
	return {
		departments: departments.all.map((d) => ({
			...d,
			depth: departments.depth(d.code),
			leaf: departments.isLeaf(d.code),
			holds: departments.isLeaf(d.code) && holding.has(d.code),
			plans: named(d.code, 'contributor'),
			reviews: named(d.code, 'reviewer')
		})),
		entities: await ENTITIES.load(context.db)
	};
}

/**
 * Adds departments under another, from an outline.
 * @returns those added, in their order
 * @throws Refusal 422 with each line that cannot be taken, or where the one above holds figures
 */
export async function addDepartments(
	context: Context,
	{ parent, outline, entity: wanted, dry }: z.output<typeof NewDepartments>
): Promise<Department[]> {
	return trying(context, dry, async (within) => {
		const { structure } = await companyFor(within, 'change departments');
		const { departments } = structure;
		const above = departments.get(parent);
		if (!above) throw notFound(`The department “${parent}”`);
		if (departments.isLeaf(parent)) await mustHoldNothing(within, above, 'have others under it');
		const entity = wanted ?? above.entity;
		await mustBeEntity(within, entity);
		const taken = new Set(departments.all.map((d) => d.code));
		const codes = new Map<string, string>();
		const made = linesOf(outline, 'department').map((item): Department => {
			const code = codeFor(item.name, '-', taken, 'department');
			taken.add(code);
			codes.set(item.code, code);
			return {
				code,
				name: item.name,
				parent: item.parent === null ? parent : codes.get(item.parent)!,
				entity
			};
		});
		const list = [...departments.all];
		list.splice(list.indexOf(departments.subtree(parent).at(-1)!) + 1, 0, ...made);
		await putDepartments(within, list);
		await mustHold(within);
		for (const d of made) await journal(within, d.code, null, d);
		return made;
	});
}

async function mustBeEntity({ db }: Within, code: string): Promise<void> {
	if (!(await db('entity').where({ code }).first('code'))) throw notFound(`The entity “${code}”`);
}

/**
 * Changes a department: what it is called, where it stands, whose it is.
 * @returns what of its figures goes elsewhere, by scenarios that the user sees, and who will see them that does not now
 * @throws Refusal 404, 422 where it cannot be, or figures of a locked scenario would go elsewhere
 */
export async function changeDepartment(
	context: Context,
	code: string,
	{ dry, before, ...change }: z.output<typeof DepartmentChange>
): Promise<{ moved: MovedFigures[]; seenBy: string[] }> {
	const { structure } = await companyFor(context, 'change departments');
	const known = structure.departments.get(code);
	if (!known) throw notFound(`The department “${code}”`);
	const goes = change.parent !== undefined && change.parent !== known.parent;
	if (goes && known.parent === null)
		throw new Refusal(422, `“${known.name}” is the whole company and lies under nothing.`);
	const currency = (entity: string) => structure.entities.find((e) => e.code === entity)?.currency;
	const recounts =
		change.entity !== undefined &&
		structure.departments.isLeaf(code) &&
		currency(change.entity) !== currency(known.entity);
	const was = goes || recounts ? await figuresOf(context, code) : [];
	return trying(context, dry, async (within) => {
		const { departments } = (await companyState(within.db)).structure;
		const department = departments.get(code);
		if (!department) throw notFound(`The department “${code}”`);
		const parent = change.parent ?? department.parent;
		const above = parent === null ? undefined : departments.get(parent);
		if (parent !== null && !above) throw notFound(`The department “${parent}”`);
		if (change.entity !== undefined) await mustBeEntity(within, change.entity);
		if (above && goes && departments.isLeaf(above.code))
			await mustHoldNothing(within, above, 'have others under it');
		const locked = was.find((f) => f.scenario.locked && f.scenario.kind !== 'actuals');
		if (locked)
			throw new Refusal(
				422,
				`“${department.name}” has figures in ${await namedFor(within, [locked.scenario.code])}, which is locked, so it stays ${goes ? 'where' : 'whose'} it is. Nothing was changed. Unlock it first.`
			);
		const changed: Department = { ...department, ...change, parent };
		const list = departments.all.map((d) =>
			d.code === code ? { ...changed, parent: department.parent } : d
		);
		const placed =
			before === undefined && !goes
				? list
				: inPlace(() => moved(list, code, { parent, before: before ?? null }));
		const sawBefore = await whoSees(within, code);
		await keepingToThoseWhoSee(within, () => putDepartments(within, placed));
		if (goes || recounts) await mustHold(within);
		if (JSON.stringify(changed) !== JSON.stringify(department))
			await journal(within, code, department, changed);
		const seen = new Set((await visibleScenarios(within)).map((s) => s.code));
		return {
			moved: was.filter((f) => seen.has(f.scenario.code)).map((f) => f.moved),
			seenBy: [...(await whoSees(within, code))].filter((who) => !sawBefore.has(who))
		};
	});
}

/**
 * Changes cells of many departments, all or none.
 * @returns how many were saved, and what of whose figures counts elsewise, by scenarios that the user sees
 * @throws Refusal 404, 409 with a conflict for each cell that is another by now, 422 as for one of them
 */
export async function saveDepartmentCells(
	context: Context,
	{ cells, dry }: z.output<typeof DepartmentCells>
): Promise<{ saved: number; moved: MovedFigures[] }> {
	const { departments } = (await companyFor(context, 'change departments')).structure;
	const changes = readCells(
		cells,
		(cell) => cell.department,
		(code) => departments.get(code)?.name,
		(column) => DepartmentChange.shape[column].unwrap(),
		'department'
	);
	return trying(context, dry, async (within) => {
		const now = (await companyState(within.db)).structure.departments;
		mustBeAsSeen(cells, (cell) => now.get(cell.department)?.[cell.column] ?? null);
		const moved: MovedFigures[] = [];
		for (const [department, change] of changes) {
			const one = await changeDepartment(within, department, { ...change, dry: false });
			moved.push(...one.moved.map((m) => ({ department, ...m })));
		}
		return { saved: cells.length, moved };
	});
}

/** Names of those whose role covers a department, analysts apart. */
async function whoSees({ db }: Within, code: string): Promise<Set<string>> {
	const { departments } = (await companyState(db)).structure;
	return new Set(
		(await activeUsers(db))
			.filter((u) => u.role !== 'analyst' && u.departments.some((d) => departments.within(code, d)))
			.map((u) => u.name)
	);
}

/** Takes out a department that holds nothing. @throws Refusal 404, 422 with what it holds */
export async function removeDepartment(context: Context, code: string): Promise<void> {
	await asOne(context, async (within) => {
		const { departments } = (await companyFor(within, 'change departments')).structure;
		const department = departments.get(code);
		if (!department) throw notFound(`The department “${code}”`);
		if (!departments.isLeaf(code))
			throw new Refusal(422, `There are departments under “${department.name}”. Move or remove those first.`);
		if (department.parent === null)
			throw new Refusal(422, `“${department.name}” is the whole company and cannot go.`);
		await mustHoldNothing(within, department, 'go');
		// Also who is disabled: they may come back.
		const named = (await allUsers(within.db)).find((u) => u.departments.includes(code));
		if (named)
			throw new Refusal(
				422,
				`“${department.name}” is what ${named.name} answers for. Give them another department under People first.`
			);
		if (departments.children(department.parent).length === 1)
			throw new Refusal(
				422,
				`“${department.name}” is all that “${departments.get(department.parent)!.name}” consists of, which would take figures itself.`
			);
		await keepingToThoseWhoSee(within, () =>
			putDepartments(
				within,
				departments.all.filter((d) => d.code !== code)
			)
		);
		await mustHold(within);
		await journal(within, code, department, null);
	});
}

/** @throws Refusal 422 with the first thing that would have no place any more, also in scenarios that were deleted */
async function mustHoldNothing(within: Within, { code, name }: Department, cannot: string): Promise<void> {
	const { db: trx } = within;
	const refuse = (what: string) => {
		throw new Refusal(422, `“${name}” ${what}, so it cannot ${cannot}.`);
	};
	if (await trx('ledger_entry').where({ department: code }).first('id')) refuse('has ledger entries');
	if (await trx('series').where({ block: 'accounts', row: code }).first('scenario'))
		refuse('has figures that were typed');
	if (await trx('basis').where({ department: code }).first('scenario')) refuse('has accounts with a basis');
	if (await trx('submission').where({ department: code }).first('round')) refuse('takes part in a round');
	if ((await notedCells(within)).some((cell) => cell.row === code)) refuse('has notes, items or attachments');
}

async function putDepartments({ db: trx }: Within, list: readonly Department[]): Promise<void> {
	await putTree(trx, 'department', list);
	await touchCompany(trx);
}

const said = (d: Department | null) => (d ? JSON.stringify(d) : '');
const journal = (within: Within, code: string, before: Department | null, after: Department | null) =>
	noteCompany(within, { what: 'department', code }, said(before), said(after));

/** Scenarios in which a department has figures, with what it comes to: the first total of the chart that is no balance. */
export async function figuresOf(
	{ db }: Context,
	department: string
): Promise<{ scenario: ListedScenario; moved: MovedFigures }[]> {
	const { accounts } = (await companyState(db)).structure;
	const result = accounts.roots.find((a) => !isBalance(a.type));
	const found = [];
	for (const scenario of await listScenarios(db)) {
		const plan = await planOf(db, scenario.code);
		const leaves = accounts.all.filter((a) => accounts.isLeaf(a.code));
		const there = comparable(plan);
		if (!leaves.some((a) => ownMonths(there, scenario, a.code, department).some(isFigure))) continue;
		const view = moneyView(plan.structure, department);
		const totals = totalsOf(plan, plan.structure.calendar, ratesIn(plan, view));
		const months = result ? ownMonths(totals, scenario, result.code, department) : new Float64Array();
		const currency = currencyIn(plan.structure, department, view);
		found.push({
			scenario,
			moved: movedIn(
				scenario,
				currency,
				months.reduce((a, b) => a + b, 0)
			)
		});
	}
	return found;
}
