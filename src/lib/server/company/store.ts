/** A whole company into the database, and out of it. */
import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import { ROW_SEPARATOR, rowKey } from '../../core/engine/row-key';
import type { ModelDefinition } from '../../core/blocks/driver-model/schema';
import type { Series } from '../../core/inputs/series';
import { deferForeignKeys, insertMany, fromBlob, toBlob } from '../platform/db/bulk';
import {
	adjustmentFromRow,
	adjustmentToRow,
	basisFromRow,
	basisToRow,
	readCompanyRow,
	profileToRow,
	readProfiles,
	readRules,
	readStructureRows,
	ruleToRow,
	scenarioFromRow,
	type AdjustmentRow,
	type BasisRow,
	type ScenarioRow
} from './rows';
import { Refusal } from '../platform/refusal';
import {
	tagsFromText,
	tagsToText,
	type AttachmentRecord,
	type CompanyData,
	type Entry,
	type ItemRecord,
	type NoteRecord,
	type ScenarioRecord
} from './data';

/** Whether a company has been loaded. */
export async function hasCompany(db: Knex): Promise<boolean> {
	return (await db('company').first('id')) !== undefined;
}

/** Identity of a model's definition: equal content, equal id. */
export function definitionId(definition: ModelDefinition): string {
	return createHash('sha256').update(JSON.stringify(definition)).digest('hex');
}

/** Keeps a definition, once for equal content, and answers its id. */
export async function keepDefinition(trx: Knex.Transaction, definition: ModelDefinition): Promise<string> {
	const id = definitionId(definition);
	await trx('definition')
		.insert({ id, content: JSON.stringify(definition) })
		.onConflict('id')
		.ignore();
	return id;
}

export function seriesRows(scenario: string, series: Iterable<Series>): unknown[][] {
	return Array.from(series, (s) => [scenario, s.block, s.line, s.row, s.first, toBlob(s.values)]);
}
export const SERIES_COLUMNS = ['scenario', 'block', 'line', 'row', 'first', 'data'] as const;

export const ENTRY_COLUMNS = [
	'period',
	'date',
	'ledger_account',
	'department',
	'amount',
	'document',
	'party',
	'description',
	'tags'
] as const;
export function entryRow(e: Entry, dimensions: readonly string[]): unknown[] {
	return [
		e.period,
		e.date,
		e.ledgerAccount,
		e.department,
		e.amount,
		e.document,
		e.party,
		e.description,
		tagsToText(e.tags, dimensions)
	];
}

/** Sums a month's entries by ledger account and department, from which actuals are read. */
export async function totalEntries(trx: Knex.Transaction, period: number | null): Promise<void> {
	const months = trx('ledger_total');
	const entries = trx('ledger_entry')
		.select('period', 'ledger_account', 'department')
		.sum({ amount: 'amount' })
		.groupBy('period', 'ledger_account', 'department');
	if (period !== null) {
		months.where({ period });
		entries.where({ period });
	}
	await months.delete();
	await trx(
		trx.raw('?? (??, ??, ??, ??)', ['ledger_total', 'period', 'ledger_account', 'department', 'amount'])
	).insert(entries);
}

/**
 * Stores a company in an empty database; all or nothing.
 * @throws Refusal when the database holds a company already
 */
export async function storeCompany(db: Knex, data: CompanyData): Promise<void> {
	await db.transaction(async (trx) => {
		if (await hasCompany(trx))
			throw new Refusal(
				409,
				'The database holds a company already. Load into an empty one, or move the file away first.'
			);
		// Parents may be listed below their children, and scenarios below those that follow them.
		await deferForeignKeys(trx);
		const numbered = <T extends object>(rows: readonly T[]) =>
			rows.map((row, position) => ({ ...row, position }));
		const insert = async (table: string, rows: readonly object[]) => {
			if (!rows.length) return;
			const columns = Object.keys(rows[0]);
			await insertMany(
				trx,
				table,
				columns,
				rows.map((r) => columns.map((c) => (r as Record<string, unknown>)[c]))
			);
		};
		const { company } = data;
		await trx('company').insert({
			id: 1,
			name: company.name,
			currency: company.currency,
			fiscal_start: company.calendar.fiscalStart,
			decimals: company.decimals,
			closed_through: data.closedThrough
		});
		await insert('entity', numbered(data.entities));
		await insert('department', numbered(data.departments));
		await insert('account', numbered(data.accounts.map((a) => ({ ...a, nonCash: a.nonCash ? 1 : 0 }))));
		await insert('ledger_account', numbered(data.ledgerAccounts));
		await insert('dimension', numbered(data.dimensions.map(({ code, name }) => ({ code, name }))));
		for (const d of data.dimensions)
			await insert(
				'member',
				numbered(
					d.members.map((m) => ({ dimension: d.code, ...m, attributes: JSON.stringify(m.attributes) }))
				)
			);
		await insert('model', numbered(data.models.map(({ code }) => ({ code }))));
		for (const m of data.models)
			await insert('model_row', numbered(m.rows.map((r) => ({ model: m.code, row: rowKey(r) }))));
		await insert('combination_rule', data.rules.map(ruleToRow));
		await insert('profile', data.profiles.map(profileToRow));
		for (const [position, s] of data.scenarios.entries()) {
			const { scenario } = s;
			await trx('scenario').insert({
				code: scenario.code,
				name: scenario.name,
				kind: scenario.kind,
				first: scenario.first,
				last: scenario.last,
				actuals_through: scenario.actualsThrough,
				follows: scenario.follows,
				origin: scenario.origin,
				locked: scenario.locked,
				description: scenario.description,
				folder: scenario.folder,
				visibility: scenario.visibility,
				people: scenario.people.join(';'),
				owner: scenario.owner,
				target: scenario.target,
				position
			});
			for (const definition of s.definitions)
				await trx('scenario_model').insert({
					scenario: scenario.code,
					model: definition.code,
					definition: await keepDefinition(trx, definition)
				});
			await insertMany(trx, 'series', SERIES_COLUMNS, seriesRows(scenario.code, s.series));
			await storeCellNotes(trx, s);
			await insert(
				'adjustment',
				s.adjustments.map((a, i) => adjustmentToRow(scenario.code, a, i))
			);
			await insert(
				'basis',
				s.bases.map((b) => basisToRow(scenario.code, b))
			);
		}
		const dimensions = data.dimensions.map((d) => d.code);
		await insertMany(
			trx,
			'ledger_entry',
			ENTRY_COLUMNS,
			data.entries.map((e) => entryRow(e, dimensions))
		);
		await totalEntries(trx, null);
		await insert('user', numbered(data.users.map((u) => ({ ...u, departments: u.departments.join(';') }))));
		await insert('round', numbered(data.rounds));
		await insert(
			'submission',
			data.submissions.map((s) => ({ ...s, figures: s.figures ? JSON.stringify(s.figures) : null }))
		);
		await insert('submission_event', data.events);
		await insert('feed_run', data.feedRuns);
		await insert('journal', data.journal);
	});
}

async function storeCellNotes(
	trx: Knex.Transaction,
	{ scenario, notes, items, attachments }: ScenarioRecord
) {
	const ids: number[] = [];
	for (const { answers, ...n } of notes) {
		const row = { ...n, scenario: scenario.code, answers: answers === null ? null : ids[answers] };
		const [id] = (await trx('note').insert(row).returning('id')) as { id: number }[];
		ids.push(id.id);
	}
	const places = new Map<string, number>();
	for (const item of items) {
		const position = places.get(item.subject) ?? 0;
		places.set(item.subject, position + 1);
		await trx('item').insert({ ...item, scenario: scenario.code, position });
	}
	for (const a of attachments)
		await trx('attachment').insert({
			...a,
			content: Buffer.from(a.content),
			size: a.content.length,
			scenario: scenario.code
		});
}

async function readCellNotes(
	db: Knex,
	scenario: string
): Promise<Pick<ScenarioRecord, 'notes' | 'items' | 'attachments'>> {
	const notes = (await db('note').where({ scenario }).orderBy('id')) as (NoteRecord & { id: number })[];
	const place = new Map(notes.map((n, i) => [n.id, i]));
	const items = (await db('item').where({ scenario }).orderBy(['subject', 'position'])) as ItemRecord[];
	const attachments = (await db('attachment').where({ scenario }).orderBy('id')) as AttachmentRecord[];
	return {
		notes: notes.map(({ subject, at, user, text, answers }) => ({
			subject,
			at,
			user,
			text,
			answers: answers === null ? null : (place.get(answers) ?? null)
		})),
		items: items.map(({ subject, description, quantity, rate, amount }) => ({
			subject,
			description,
			quantity,
			rate,
			amount
		})),
		attachments: attachments.map(({ subject, at, user, name, content }) => ({
			subject,
			at,
			user,
			name,
			content: new Uint8Array(content)
		}))
	};
}

/** Everything the database holds of the company, without passwords and sessions. */
export async function readStored(db: Knex): Promise<CompanyData> {
	const { company, closedThrough } = await readCompanyRow(db);
	const structure = await readStructureRows(db);
	const plain = <T>(rows: Record<string, unknown>[], ...drop: string[]) =>
		rows.map((r) => Object.fromEntries(Object.entries(r).filter(([k]) => !drop.includes(k))) as T);
	const scenarios = [];
	for (const row of (await db('scenario').whereNull('deleted').orderBy('position')) as ScenarioRow[]) {
		const definitions = (await db('scenario_model')
			.join('definition', 'definition.id', 'scenario_model.definition')
			.join('model', 'model.code', 'scenario_model.model')
			.where({ scenario: row.code })
			.orderBy('model.position')
			.select('content')) as { content: string }[];
		scenarios.push({
			scenario: scenarioFromRow(row),
			definitions: definitions.map((d) => JSON.parse(d.content) as ModelDefinition),
			series: await readSeries(db, row.code),
			bases: (
				(await db('basis').where({ scenario: row.code }).orderBy(['account', 'department'])) as BasisRow[]
			).map(basisFromRow),
			adjustments: (
				(await db('adjustment').where({ scenario: row.code }).orderBy('position')) as AdjustmentRow[]
			).map(adjustmentFromRow),
			...(await readCellNotes(db, row.code))
		});
	}
	return {
		company,
		closedThrough,
		accounts: structure.accounts,
		ledgerAccounts: plain(await db('ledger_account').orderBy('position'), 'position'),
		entities: plain(await db('entity').orderBy('position'), 'position'),
		departments: structure.departments,
		dimensions: structure.dimensions,
		models: await readModelRows(db),
		rules: await readRules(db),
		profiles: await readProfiles(db),
		scenarios,
		entries: ((await db('ledger_entry').orderBy('id')) as Record<string, never>[]).map((e) => ({
			period: e.period,
			date: e.date,
			ledgerAccount: e.ledger_account,
			department: e.department,
			amount: e.amount,
			document: e.document,
			party: e.party,
			description: e.description,
			tags: tagsFromText(e.tags)
		})) as Entry[],
		users: (await db('user').orderBy('position')).map((u) => ({
			email: u.email,
			name: u.name,
			role: u.role,
			departments: u.departments.split(';')
		})),
		rounds: plain(await db('round').orderBy('position'), 'position'),
		submissions: (
			await db('submission')
				.join('round', 'round.code', 'submission.round')
				.join('department', 'department.code', 'submission.department')
				.orderBy(['round.position', 'department.position'])
				.select('submission.*')
		).map((s) => ({ ...s, figures: s.figures ? JSON.parse(s.figures) : null })),
		events: plain(await db('submission_event').orderBy('id'), 'id'),
		journal: plain(await db('journal').orderBy('id'), 'id'),
		feedRuns: plain(await db('feed_run').orderBy('id'), 'id')
	};
}

/** The combinations of members each model holds, in order. */
export async function readModelRows(db: Knex): Promise<{ code: string; rows: string[][] }[]> {
	const models = (await db('model').orderBy('position')) as { code: string }[];
	const rows = (await db('model_row').orderBy(['model', 'position'])) as { model: string; row: string }[];
	return models.map(({ code }) => ({
		code,
		rows: rows.filter((r) => r.model === code).map((r) => r.row.split(ROW_SEPARATOR))
	}));
}

export async function readSeries(db: Knex, scenario: string): Promise<Series[]> {
	const rows = (await db('series').where({ scenario }).orderBy(['block', 'line', 'row'])) as {
		block: string;
		line: string;
		row: string;
		first: number;
		data: Buffer;
	}[];
	return rows.map((r) => ({
		block: r.block,
		line: r.line,
		row: r.row,
		first: r.first,
		values: fromBlob(r.data)
	}));
}
