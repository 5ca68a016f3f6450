/** Dimensions and their members: adding one while planning, with rows, attributes and figures like another's. */
import { moved } from '../../core/company/move';
import { inPlace } from '../setup/tree';
import { z } from 'zod';
import type { Knex } from 'knex';
import { attributeOf, attributesOf } from '../../core/company/attributes';
import { isRetired, retiredIn, retiredOf } from '../../core/company/retired';
import { ROW_SEPARATOR, rowKey } from '../../core/engine/row-key';
import type { Member } from '../../core/company/schema';
import type { ModelDefinition } from '../../core/blocks/driver-model/schema';
import { codeFor, RESERVED_CODES } from '../../core/company/code';
import { ownValue } from '../../core/text';
import type { DimensionView } from '../../core/views/dimension-view';
import { buildTree, TreeError } from '../../core/company/tree';
import { membersAt } from '../../core/inputs/combinations';
import { firstOpen } from '../../core/scenario/assemble';
import { treeOf } from '../../core/company/structure';
import { takesTyping } from '../../core/blocks/driver-model/scope';
import { readSeries } from '../company/subjects/scenario/values';
import { readForms } from '../company/subjects/scenario/block-forms';
import { adjustmentsInUse } from '../company/subjects/scenario/adjustments';
import { newBatch, note } from '../company/journal';
import { keepingLockedFigures } from '../scenarios/locked-figures';
import { definitionsInUse, mustBeRows, storedRows, storeRows } from './rows';
import { saveModelCells } from './models';
import { notFound, Refusal } from '../platform/refusal';
import { mustSee, visibleScenarios, writableScenario } from '../scenarios/scenarios';
import { mustStillBuild } from '../scenarios/soundness';
import { companyState, touchCompany, type CompanyState, companyFor } from '../company/structure';
import type { CellEdit } from '../../core/inputs/cell';
import * as stored from '../platform/db/stored';
import { Definition } from '../company/subjects/models';
import { asOne, type Context, type Within } from '../platform/context';

const FormRow = z.object({ content: Definition });

/** Dimensions of the company with their members and where they are used. */
export async function readDimensions(context: Context): Promise<DimensionView[]> {
	const { db } = context;
	const { structure } = await companyFor(context, 'see driver models');
	const seen = new Set((await visibleScenarios(context)).map((s) => s.code));
	const models = await modelsInUse(db, seen);
	const counts = new Map<string, number>();
	for (const { code, definition } of models)
		for (const row of definition.dimensions.length ? await storedRows(db, code) : [])
			definition.dimensions.forEach((d, i) => {
				const key = `${d}/${row[i]}`;
				counts.set(key, (counts.get(key) ?? 0) + 1);
			});
	return [...structure.dimensions.values()].map(({ dimension, members }) => {
		const attributes = attributesOf(dimension);
		const retired = retiredIn(members);
		return {
			code: dimension.code,
			name: dimension.name,
			attributes,
			members: members.all.map((m) => ({
				...m,
				depth: members.depth(m.code),
				leaf: members.isLeaf(m.code),
				offered: !retired.has(m.code),
				inherited: Object.fromEntries(
					attributes.flatMap((a) => {
						const value = ownValue(m.attributes, a) ? null : attributeOf(members, m.code, a);
						return value === null ? [] : [[a, value]];
					})
				),
				rows: counts.get(`${dimension.code}/${m.code}`) ?? 0
			})),
			models: models
				.filter((m) => m.definition.dimensions.includes(dimension.code))
				.map(({ definition }) => ({
					code: definition.code,
					name: definition.name,
					lines: definition.lines.filter(takesTyping).map(({ code, label }) => ({ code, label }))
				}))
		};
	});
}

/** Every dimension with its members in tree order, departments too. */
export async function dimensionTrees(db: Knex): Promise<
	{
		code: string;
		name: string;
		members: { code: string; name: string; depth: number; offered: boolean }[];
		attributes: string[];
	}[]
> {
	const { structure } = await companyState(db);
	const own = new Map([...structure.dimensions.values()].map(({ dimension }) => [dimension.code, dimension]));
	return (await dimensionNames(db)).map(({ code, name }) => {
		const tree = treeOf(structure, code)!;
		const retired = retiredOf(structure, code);
		return {
			code,
			name,
			members: tree.all.map((m) => ({
				code: m.code,
				name: m.name,
				depth: tree.depth(m.code),
				offered: !retired.has(m.code)
			})),
			attributes: own.has(code) ? attributesOf(own.get(code)!) : []
		};
	});
}

/** What driver models may be laid out by; departments are a dimension too. */
export async function dimensionNames(db: Knex): Promise<{ code: string; name: string }[]> {
	const { structure } = await companyState(db);
	const own = [...structure.dimensions.values()].map(({ dimension: { code, name } }) => ({ code, name }));
	return [...own, { code: 'department', name: 'Department' }];
}

/** Every model that some scenario uses, or one of those named, in one of its forms. */
export async function modelsInUse(
	db: Knex,
	only?: ReadonlySet<string>
): Promise<{ code: string; definition: ModelDefinition }[]> {
	const found = [];
	for (const code of await stored.texts(db('model').orderBy('position').pluck('code'))) {
		const forms = await definitionsInUse(db, code);
		const form = forms.find((f) => !only || f.scenarios.some((s) => only.has(s)));
		if (form) found.push({ code, definition: form.definition });
	}
	return found;
}

export interface NewMember {
	dimension: string;
	/** Made from the name when it is not given. */
	code?: string;
	name: string;
	parent: string | null;
	/** Its own; what it does not have it gets from above. */
	attributes: Record<string, string>;
	/** A member whose rows it gets too, and figures of some lines in some scenarios. */
	like?: {
		member: string;
		scenarios: readonly string[];
		/** `factor` 0.5 takes half. */
		lines: readonly { model: string; line: string; factor: number }[];
	};
}

/**
 * Adds a member; everything happens, or nothing.
 * @returns its code, and how many rows and cells came with it
 */
export async function addMember(
	context: Context,
	wanted: NewMember
): Promise<{ code: string; rows: number; cells: number }> {
	const { user } = context;
	return asOne(context, async (within) => {
		const { db: trx } = within;
		const state = await companyFor(within, 'change driver models');
		const { dimension, members } = dimensionOf(state, wanted.dimension);
		const taken = new Set(dimension.members.map((m) => m.code));
		const code = wanted.code ?? codeFor(wanted.name, '-', taken, 'member');
		if (taken.has(code))
			throw new Refusal(409, `There is a ${dimension.name.toLowerCase()} “${code}” already.`);
		if (dimension.members.some((m) => m.name === wanted.name))
			throw new Refusal(409, `There is a ${dimension.name.toLowerCase()} named “${wanted.name}” already.`);
		const { parent, like } = wanted;
		if (parent !== null && !members.get(parent)) throw notFound(`The member “${parent}”`);
		if (parent !== null && members.isLeaf(parent))
			await mustHoldNothing(trx, dimension.code, members.get(parent)!);
		if (like && !members.get(like.member)) throw notFound(`The member “${like.member}”`);
		if (like && !members.isLeaf(like.member))
			throw new Refusal(
				422,
				`“${members.get(like.member)!.name}” is a total of others. Choose one that holds data.`
			);
		if (parent !== null && isRetired(members, parent))
			throw new Refusal(422, `“${members.get(parent)!.name}” is retired. Bring it back first.`);

		const member: Member = {
			code,
			name: wanted.name,
			parent,
			retired: false,
			attributes: filled(wanted.attributes)
		};
		const list = [...dimension.members];
		const after = like ? like.member : parent === null ? undefined : members.subtree(parent).at(-1)?.code;
		list.splice(after ? list.findIndex((m) => m.code === after) + 1 : list.length, 0, member);

		const models = like
			? (await modelsInUse(trx)).filter((m) => m.definition.dimensions.includes(dimension.code))
			: [];
		let rows = 0;
		await keepingLockedFigures(
			within,
			models.map((m) => m.code),
			async () => {
				await storeMembers(trx, dimension.code, list);
				await touchCompany(trx);
				const now = await companyState(trx);
				for (const m of models) rows += await rowsLike(trx, now, m, dimension.code, like!.member, code);
				await touchCompany(trx);
			}
		);
		await mustStillBuild(within);
		await note(trx, [
			{
				user: user.email,
				kind: 'member',
				scenario: '',
				about: { what: 'member', dimension: dimension.code, member: code },
				before: '',
				after: JSON.stringify(member),
				why: like ? `like ${like.member}` : ''
			}
		]);
		const cells = like ? await figuresLike(within, dimension.code, code, like) : 0;
		return { code, rows, cells };
	});
}

export function dimensionOf({ structure }: CompanyState, code: string) {
	const found = structure.dimensions.get(code);
	if (!found) throw notFound(`The dimension “${code}”`);
	return found;
}

const filled = (attributes: Record<string, string>) =>
	Object.fromEntries(
		Object.entries(attributes).flatMap(([k, v]) => (v.trim() === '' ? [] : [[k, v.trim()]]))
	);

/** Puts a dimension's members in this order. @throws Refusal 422 where the parents do not make a tree */
export async function storeMembers(
	trx: Knex.Transaction,
	dimension: string,
	members: readonly Member[]
): Promise<void> {
	try {
		buildTree(members);
	} catch (e) {
		if (e instanceof TreeError) throw new Refusal(422, e.message);
		throw e;
	}
	await trx('member').where({ dimension }).delete();
	for (const [position, m] of members.entries())
		await trx('member').insert({ dimension, ...m, attributes: JSON.stringify(m.attributes), position });
}

/** Rows as those of another member, each after the one it is like; what rules block is left out. */
async function rowsLike(
	trx: Knex.Transaction,
	state: CompanyState,
	{ code, definition: { dimensions } }: { code: string; definition: ModelDefinition },
	dimension: string,
	like: string,
	member: string
): Promise<number> {
	const at = dimensions.indexOf(dimension);
	const fresh: string[][] = [];
	const rows = (await storedRows(trx, code)).flatMap((row) => {
		if (row[at] !== like) return [row];
		const own = row.with(at, member);
		if (state.blocking(membersAt(dimensions, own))) return [row];
		fresh.push(own);
		return [row, own];
	});
	if (!fresh.length) return 0;
	await mustBeRows(trx, state, code, fresh);
	await storeRows(trx, code, rows);
	return fresh.length;
}

/** Typed figures like another member's in the open months of scenarios. */
async function figuresLike(
	context: Within,
	dimension: string,
	member: string,
	like: NonNullable<NewMember['like']>
): Promise<number> {
	const { db: trx } = context;
	const batch = newBatch();
	let cells = 0;
	for (const scenario of like.scenarios) {
		await mustSee(context, scenario);
		const own = await writableScenario(trx, scenario);
		const open = firstOpen(own);
		const series = await readSeries(trx, scenario);
		for (const model of new Set(like.lines.map((l) => l.model))) {
			const form = await stored.row(
				FormRow,
				trx('scenario_model')
					.join('definition', 'definition.id', 'scenario_model.definition')
					.where({ scenario, model })
					.first('content')
			);
			if (!form) continue;
			const { dimensions } = form.content;
			const at = dimensions.indexOf(dimension);
			const rows = new Set((await storedRows(trx, model)).map(rowKey));
			const edits: CellEdit[] = [];
			for (const { line, factor } of like.lines.filter((l) => l.model === model))
				for (const s of series) {
					if (s.block !== model || s.line !== line) continue;
					const row = s.row.split(ROW_SEPARATOR);
					const key = rowKey(row.with(at, member));
					if (row[at] !== like.member || !rows.has(key)) continue;
					s.values.forEach((v, i) => {
						const period = s.first + i;
						if (!Number.isNaN(v) && period >= open && period <= own.last)
							edits.push({
								block: model,
								line,
								row: key,
								period,
								before: null,
								value: factor === 1 ? v : v * factor
							});
					});
				}
			if (edits.length)
				cells += await saveModelCells(context, scenario, model, edits, { kind: 'driver', batch });
		}
	}
	return cells;
}

export interface MemberChange {
	name?: string;
	parent?: string | null;
	/** The member of the same parent that it stands before; null is the last place. */
	before?: string | null;
	retired?: boolean;
	attributes?: Record<string, string>;
}

/**
 * Changes what a member is called, where it belongs and its attributes; all scenarios follow.
 * @throws Refusal 422 when a locked scenario's figures would change
 */
export async function changeMember(
	context: Context,
	dimensionCode: string,
	code: string,
	{ before, ...change }: MemberChange
): Promise<void> {
	const { user } = context;
	await asOne(context, async (within) => {
		const { db: trx } = within;
		const state = await companyFor(within, 'change driver models');
		const { dimension, members } = dimensionOf(state, dimensionCode);
		const member = members.get(code);
		if (!member) throw notFound(`The member “${code}”`);
		if (change.name !== undefined && dimension.members.some((m) => m.code !== code && m.name === change.name))
			throw new Refusal(409, `There is a ${dimension.name.toLowerCase()} named “${change.name}” already.`);
		const { parent } = change;
		if (parent != null && parent !== member.parent) {
			if (!members.get(parent)) throw notFound(`The member “${parent}”`);
			if (members.isLeaf(parent)) await mustHoldNothing(trx, dimension.code, members.get(parent)!);
		}
		const changed: Member = {
			...member,
			...change,
			attributes: change.attributes ? filled(change.attributes) : member.attributes
		};
		const models = (await modelsInUse(trx)).filter((m) => m.definition.dimensions.includes(dimension.code));
		await keepingLockedFigures(
			within,
			models.map((m) => m.code),
			async () => {
				const list = dimension.members.map((m) =>
					m.code === code ? { ...changed, parent: member.parent } : m
				);
				await storeMembers(
					trx,
					dimension.code,
					before === undefined && changed.parent === member.parent
						? list
						: inPlace(() => moved(list, code, { parent: changed.parent, before: before ?? null }))
				);
				await touchCompany(trx);
				const now = await companyState(trx);
				for (const m of models) await mustBeRowsStill(trx, now, m.code);
			}
		);
		await mustStillBuild(within);
		await note(trx, [
			{
				user: user.email,
				kind: 'member',
				scenario: '',
				about: { what: 'member', dimension: dimension.code, member: code },
				before: JSON.stringify(member),
				after: JSON.stringify(changed),
				why: ''
			}
		]);
	});
}

/** Postings of all rows still lead somewhere. */
export async function mustBeRowsStill(
	trx: Knex.Transaction,
	state: CompanyState,
	model: string
): Promise<void> {
	const rows = await storedRows(trx, model);
	// What rules block now is listed elsewhere; it is no reason to refuse another name.
	await mustBeRows(trx, { ...state, blocking: () => null }, model, rows);
}

/** Takes out a member that no row, entry, formula or rule speaks of. */
export async function removeMember(context: Context, dimensionCode: string, code: string): Promise<void> {
	const { user } = context;
	await asOne(context, async (within) => {
		const { db: trx } = within;
		const state = await companyFor(within, 'change driver models');
		const { dimension, members } = dimensionOf(state, dimensionCode);
		const member = members.get(code);
		if (!member) throw notFound(`The member “${code}”`);
		if (!members.isLeaf(code))
			throw new Refusal(422, `There are members under “${member.name}”. Move or remove those first.`);
		await mustHoldNothing(trx, dimension.code, member);
		await storeMembers(
			trx,
			dimension.code,
			dimension.members.filter((m) => m.code !== code)
		);
		await note(trx, [
			{
				user: user.email,
				kind: 'member',
				scenario: '',
				about: { what: 'member', dimension: dimension.code, member: code },
				before: JSON.stringify(member),
				after: '',
				why: ''
			}
		]);
		await touchCompany(trx);
		await mustStillBuild(within);
	});
}

/** @throws Refusal 422 saying where a member is used */
export async function mustHoldNothing(
	trx: Knex.Transaction,
	dimension: string,
	{ code, name }: Member
): Promise<void> {
	const refuse = (where: string) => {
		throw new Refusal(422, `“${name}” ${where}; it cannot become a total or go.`);
	};
	for (const m of await modelsInUse(trx)) {
		const at = m.definition.dimensions.indexOf(dimension);
		if (at >= 0 && (await storedRows(trx, m.code)).some((row) => row[at] === code))
			refuse(`has rows in ${m.definition.name}`);
		for (const { definition } of await definitionsInUse(trx, m.code))
			if (speaksOf(definition, dimension, code)) refuse(`is named by ${definition.name}`);
	}
	// Also those of scenarios that were deleted, and may be brought back.
	for (const scenario of await stored.texts(trx('scenario').pluck('code')))
		for (const { definition, rows } of (await readForms(trx, scenario)).schedules)
			for (const column of definition.columns)
				if (column.kind === 'member' && column.dimension === dimension) {
					if (column.default === code) refuse(`is what a new row of ${definition.name} has`);
					const row = rows.find((r) => r.values[column.code] === code);
					if (row) refuse(`stands in rows of ${definition.name}`);
				}
	for (const { name, steps } of await adjustmentsInUse(trx))
		if (steps.some((s) => ownValue(s.where, dimension) === code))
			refuse(`is named by the adjustment “${name}”`);
	const tag = `${dimension}=${code}`;
	const entry = await trx('ledger_entry')
		.where((q) => {
			void q
				.where({ tags: tag })
				.orWhereLike('tags', `${tag};%`)
				.orWhereLike('tags', `%;${tag}`)
				.orWhereLike('tags', `%;${tag};%`);
		})
		.first('id');
	if (entry) refuse('stands on ledger entries');
	const { rules } = await companyState(trx);
	for (const rule of rules)
		for (const set of [rule.lead, ...rule.others])
			if (set.dimension === dimension && [...set.under, ...set.except].includes(code))
				refuse(`is named by the combination rule “${rule.name}”`);
}

function speaksOf(definition: ModelDefinition, dimension: string, code: string): boolean {
	const wheres = [
		...definition.postings.map((p) => p.where),
		...(definition.proofs ?? []).map((p) => p.where),
		...definition.lines.flatMap((l) => (l.scoped ?? []).map((s) => s.where))
	];
	return (
		wheres.some((w) => ownValue(w, dimension) === code) ||
		definition.lines.some((l) =>
			[l.formula, l.actual, ...(l.scoped ?? []).map((s) => s.formula)].some((f) => f?.includes(`"${code}"`))
		)
	);
}

/** Adds a dimension, without members yet. @returns its code */
export async function addDimension(context: Context, name: string): Promise<string> {
	const { user } = context;
	return asOne(context, async (within) => {
		const { db: trx } = within;
		const { structure } = await companyFor(within, 'change driver models');
		if ([...structure.dimensions.values()].some((d) => d.dimension.name === name))
			throw new Refusal(409, `There is a dimension named “${name}” already.`);
		// Formulas speak of lines, models and dimensions by the same kind of name.
		const taken = [
			...RESERVED_CODES,
			...structure.dimensions.keys(),
			...(await stored.texts(trx('model').pluck('code')))
		];
		const code = codeFor(name, '_', taken, 'dimension');
		const { position } = await stored.one(
			stored.lastPlace,
			trx('dimension').max({ position: 'position' }).first()
		);
		await trx('dimension').insert({ code, name, position: (position ?? -1) + 1 });
		await note(trx, [
			{
				user: user.email,
				kind: 'member',
				scenario: '',
				about: { what: 'member', dimension: code, member: '' },
				before: '',
				after: name,
				why: ''
			}
		]);
		await touchCompany(trx);
		return code;
	});
}
