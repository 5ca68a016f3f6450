/** Reads a company from the files of a folder and checks that all of it fits together. */
import { z } from 'zod';
import { monthCalendar, type Calendar } from '../../core/calendar/calendar';
import { calendarOf } from '../../core/calendar/calendar-of';
import { SUBMISSION_STATES } from '../../core/rounds/submission';
import { AdjustmentDefinition, CombinationRule, Profile } from '../../core/inputs/schema';
import {
	AccountType,
	NumberFormat,
	TimeRollup,
	type Company,
	type Department,
	type Dimension,
	type Member
} from '../../core/company/schema';
import type { Basis } from '../../core/inputs/basis';
import { ModelDefinition } from '../../core/blocks/driver-model/schema';
import { ScenarioKind } from '../../core/scenario/schema';
import { chartFaults } from '../../core/company/chart';
import { isNoKey, ownValue } from '../../core/text';
import { buildTree, treeFaults, type Tree, type TreeFault, type TreeItem } from '../../core/company/tree';
import { adjustmentFaults } from '../../core/scenario/check-adjustment';
import { blocksOf } from '../../core/blocks/kinds';
import { basisFaults } from '../../core/blocks/accounts/check-basis';
import { rowFaults } from '../../core/blocks/driver-model/check-rows';
import { scenarioFaults } from '../../core/scenario/check-scenarios';
import { foreignReferences } from '../../core/scenario/foreign';
import { buildStructure, treeOf, type Structure } from '../../core/company/structure';
import { ruleFaults } from '../../core/inputs/combinations';
import { trimBlanks } from '../../core/inputs/series';
import { definitionFaults, type DefinitionSources } from '../../core/blocks/driver-model/check-definition';
import { Refusal, type Fault } from '../platform/refusal';
import { Role, VISIBILITIES } from '../platform/auth/roles';
import type { User } from '../platform/auth/sessions';
import { shownThrough } from '../scenarios/rests-on';
import { type CompanyData, type Entry, type ScenarioRecord } from '../company/data';
import { adjustmentWordsNow, blockNow, subjectNow } from './earlier';
import * as cell from './table';
import { readTable, type CellReader } from './table';
import { FORMAT } from './write';
import { companySpan, ledgerSpan, type MonthSpan } from '../platform/settings';

const CompanyFile = z.strictObject({
	format: z.literal(FORMAT),
	name: z.string().min(1),
	currency: z.string().regex(/^[A-Z]{3}$/, 'an ISO 4217 currency code such as GBP'),
	fiscalYearStart: z.int().min(1).max(12),
	decimals: z.int().min(0).max(4).default(2),
	closedThrough: z.string().nullable().default(null)
});

/**
 * Reads a company from path → content.
 * @throws Refusal with every fault, by file, row and column
 */
export function readCompany(files: ReadonlyMap<string, string>): CompanyData {
	const reader = new FolderReader(files);
	const data = reader.read();
	if (!data || reader.faults.length)
		throw new Refusal(
			422,
			'The company folder was not loaded; these places have to be mended first.',
			reader.faults
		);
	return data;
}

class FolderReader {
	readonly faults: Fault[] = [];
	/** Rows of scenarios.csv, by code. */
	private readonly scenarioRow = new Map<string, number>();
	constructor(private readonly files: ReadonlyMap<string, string>) {}

	private table<C extends Record<string, CellReader<unknown>>>(
		file: string,
		columns: C,
		options: { needed?: boolean } & NonNullable<Parameters<typeof readTable>[4]> = {}
	) {
		const content = this.files.get(file);
		if (content === undefined) {
			if (options.needed) this.faults.push({ file, message: 'is missing' });
			return [];
		}
		return readTable(file, content, columns, this.faults, options);
	}

	private json<T>(file: string, schema: z.ZodType<T>): T | null {
		const content = this.files.get(file);
		if (content === undefined) {
			this.faults.push({ file, message: 'is missing' });
			return null;
		}
		let value: unknown;
		try {
			value = JSON.parse(content);
		} catch (e) {
			this.faults.push({ file, message: `is not readable as JSON: ${(e as Error).message}` });
			return null;
		}
		const parsed = schema.safeParse(value);
		if (parsed.success) return parsed.data;
		for (const issue of parsed.error.issues)
			this.faults.push({ file, column: issue.path.join('.') || undefined, message: issue.message });
		return null;
	}

	/** The items as a tree; where they are none, with each fault told, one beside the other. */
	private tree<T extends TreeItem & { rowNumber: number }>(
		file: string,
		items: readonly T[],
		faults: readonly TreeFault[] = treeFaults(items)
	): T[] {
		for (const { code, column, message } of faults) {
			const row = items.filter((i) => i.code === code).at(-1)!.rowNumber;
			this.faults.push({ file, row, column, message });
		}
		return faults.length ? dedupe(items).map((i) => ({ ...i, parent: null })) : [...items];
	}

	private unique<T extends { rowNumber: number }>(
		file: string,
		column: string,
		rows: T[],
		keyOf: (row: T) => string
	): T[] {
		const seen = new Set<string>();
		return rows.filter((row) => {
			const key = keyOf(row);
			if (!seen.has(key)) return seen.add(key);
			this.faults.push({ file, row: row.rowNumber, column, message: `“${key}” stands twice` });
			return false;
		});
	}

	private expect(
		good: boolean,
		file: string,
		row: number | undefined,
		column: string,
		message: string
	): boolean {
		if (!good) this.faults.push({ file, row, column, message });
		return good;
	}

	read(): CompanyData | null {
		const file = this.json('company.json', CompanyFile);
		if (!file) return null;
		const company: Company = {
			name: file.name,
			currency: file.currency,
			calendar: { kind: 'months', fiscalStart: file.fiscalYearStart, dayCount: 'actual' },
			decimals: file.decimals
		};
		const calendar = calendarOf(company.calendar);
		const period = monthIn(calendar, companySpan(calendar));
		const closedThrough = file.closedThrough === null ? null : calendar.parse(file.closedThrough);
		this.expect(
			file.closedThrough === null || closedThrough !== null,
			'company.json',
			undefined,
			'closedThrough',
			'a month such as 2026-10 was expected'
		);

		const listed = this.table(
			'accounts.csv',
			{
				code: cell.code,
				name: cell.name,
				parent: cell.optional,
				type: cell.oneOf(AccountType.options),
				rollup: cell.oneOf(TimeRollup.options),
				format: cell.oneOf(NumberFormat.options),
				cash: cell.orNull(cell.yesNo)
			},
			{ needed: true, later: ['cash'] }
		);
		const accounts = listed.map(({ cash, ...a }) => ({ ...a, nonCash: cash === false }));
		const accountTree = buildTree(this.tree('accounts.csv', accounts, chartFaults(accounts)));
		const takesFigures = (code: string) => accountTree.get(code) !== undefined && accountTree.isLeaf(code);

		const ledgerAccounts = this.unique(
			'ledger-accounts.csv',
			'code',
			this.table(
				'ledger-accounts.csv',
				{ code: cell.code, name: cell.name, account: cell.optional },
				{ needed: true }
			),
			(l) => l.code
		);
		for (const l of ledgerAccounts)
			this.expect(
				l.account === null || takesFigures(l.account),
				'ledger-accounts.csv',
				l.rowNumber,
				'account',
				`“${l.account}” is no planning account that takes figures`
			);

		const entities = this.unique(
			'entities.csv',
			'code',
			this.table('entities.csv', { code: cell.code, name: cell.name }, { needed: true }),
			(e) => e.code
		);
		const departments = this.table(
			'departments.csv',
			{ code: cell.code, name: cell.name, parent: cell.optional, entity: cell.required },
			{ needed: true }
		);
		const departmentTree = buildTree(this.tree('departments.csv', departments));
		for (const d of departments)
			this.expect(
				entities.some((e) => e.code === d.entity),
				'departments.csv',
				d.rowNumber,
				'entity',
				`the entity “${d.entity}” is not in entities.csv`
			);
		const isDepartment = (code: string) =>
			departmentTree.get(code) !== undefined && departmentTree.isLeaf(code);

		const dimensions = this.dimensions();
		const structure = buildStructure(
			calendar,
			accountTree.all,
			departmentTree.all,
			dimensions,
			company.currency
		);
		const isMember = (dimension: string, member: string) =>
			treeOf(structure, dimension)?.get(member) !== undefined;

		const entries = this.entries(
			calendar,
			dimensions,
			new Set(ledgerAccounts.map((l) => l.code)),
			isDepartment,
			isMember
		);
		const ledgerLast = entries.reduce((last, e) => Math.max(last, e.period), -1);
		this.expect(
			closedThrough === null || closedThrough <= ledgerLast,
			'company.json',
			undefined,
			'closedThrough',
			'no ledger month so late is there to be closed'
		);
		const models = this.models();
		const rows = this.rowsOf(models, structure);
		const scenarios = this.scenarios(period, models, rows, structure, ledgerLast);
		const sources: DefinitionSources = {
			accounts: accountTree,
			departments: departmentTree,
			dimensions,
			currency: company.currency,
			scenarios: ['actuals', ...scenarios.map((s) => s.scenario.code)]
		};
		const definitions = models;
		const check = (file: string, d: ModelDefinition, all: readonly ModelDefinition[]) => {
			for (const fault of definitionFaults(d, all, sources, calendar)) this.faults.push({ file, ...fault });
		};
		for (const d of definitions) check(`models/${d.code}.json`, d, definitions);
		for (const { scenario, definitions: own } of scenarios)
			for (const d of own) {
				const file = `scenarios/${scenario.code}/models/${d.code}.json`;
				if (this.files.has(file)) check(file, d, own);
			}
		const rules = this.rules((d) => treeOf(structure, d));
		const users = this.users((code) => departmentTree.get(code) !== undefined);
		this.shownThrough(scenarios, users, departmentTree);
		const rounds = this.rounds(scenarios);
		const known = new Set(rounds.map((r) => r.code));
		const submissions = this.unique(
			'submissions.csv',
			'department',
			this.table('submissions.csv', {
				round: cell.required,
				department: cell.required,
				state: cell.oneOf(SUBMISSION_STATES),
				due: isoDate,
				figures: (t) => (t === '' ? null : figures(t))
			}),
			(s) => `${s.round} ${s.department}`
		);
		for (const s of submissions) {
			this.expect(
				known.has(s.round),
				'submissions.csv',
				s.rowNumber,
				'round',
				`the round “${s.round}” is not in rounds.csv`
			);
			this.expect(
				isDepartment(s.department),
				'submissions.csv',
				s.rowNumber,
				'department',
				`“${s.department}” is no department that takes figures`
			);
		}
		const events = this.table('submission-events.csv', {
			round: cell.required,
			department: cell.required,
			at: cell.required,
			user: cell.text,
			action: cell.required,
			comment: cell.text
		});
		const journal = this.table(
			'journal.csv',
			{
				at: cell.required,
				user: cell.text,
				kind: cell.required,
				scenario: cell.text,
				subject: (t) => subjectNow(cell.text(t)),
				before: cell.text,
				after: cell.text,
				why: cell.text,
				batch: cell.text
			},
			{ later: ['batch'] }
		);
		const feedRuns = this.table('feed-runs.csv', {
			at: cell.required,
			user: cell.text,
			file: cell.text,
			period,
			entries: cell.integer,
			replaced: cell.integer,
			debits: cell.sum,
			unmapped: cell.sum
		});
		const strip = <T extends { rowNumber: number; more: unknown }>({ rowNumber: _r, more: _m, ...rest }: T) =>
			rest;
		return {
			company,
			closedThrough,
			accounts: accounts.map(strip),
			ledgerAccounts: ledgerAccounts.map(strip),
			entities: entities.map(strip),
			departments: departments.map(strip),
			dimensions,
			models: models.map(({ code }) => ({ code, rows: rows.get(code)! })),
			rules,
			profiles: this.profiles(calendar.periodsPerYear),
			scenarios,
			entries,
			users,
			rounds,
			submissions: submissions.map(strip),
			events: events.map(strip),
			journal: journal.map(strip).map((j) => ({
				...j,
				before: adjustmentWordsNow(j.subject, j.before),
				after: adjustmentWordsNow(j.subject, j.after)
			})),
			feedRuns: feedRuns.map(strip)
		};
	}

	private dimensions(): Dimension[] {
		const list = this.unique(
			'dimensions.csv',
			'code',
			this.table('dimensions.csv', { code: cell.code, name: cell.name }),
			(d) => d.code
		);
		return list.map(({ code, name, rowNumber }) => {
			this.expect(code !== 'department', 'dimensions.csv', rowNumber, 'code', '“department” is built in');
			const file = `dimensions/${code}.csv`;
			const rows = this.table(
				file,
				{ code: cell.code, name: cell.name, parent: cell.optional },
				{ needed: true, more: true }
			);
			const members = rows.map((r): Member & { rowNumber: number } => ({
				code: r.code,
				name: r.name,
				parent: r.parent,
				attributes: Object.fromEntries(Object.entries(r.more).filter(([, v]) => v !== '')),
				rowNumber: r.rowNumber
			}));
			for (const attribute of Object.keys(rows[0]?.more ?? {}))
				this.expect(
					attribute !== '' && !isNoKey(attribute),
					file,
					1,
					attribute,
					'an attribute has another name'
				);
			return { code, name, members: this.tree(file, members).map(({ rowNumber: _r, ...m }) => m) };
		});
	}

	private definition(file: string): ModelDefinition | null {
		return this.json(file, ModelDefinition as z.ZodType<ModelDefinition>);
	}

	private models(): ModelDefinition[] {
		const list = this.unique(
			'models.csv',
			'code',
			this.table('models.csv', { code: cell.required }),
			(m) => m.code
		);
		return list.flatMap(({ code }) => {
			const file = `models/${code}.json`;
			const definition = this.definition(file);
			if (!definition) return [];
			this.expect(
				definition.code === code,
				file,
				undefined,
				'code',
				`“${code}” was expected, as in models.csv`
			);
			return [definition];
		});
	}

	/** Rows by model. */
	private rowsOf(models: readonly ModelDefinition[], structure: Structure): Map<string, string[][]> {
		return new Map(
			models.map((definition) => {
				const { code, dimensions } = definition;
				if (!dimensions.length) return [code, []];
				const file = `models/${code}.rows.csv`;
				const read = this.table(file, {}, { needed: true, needs: dimensions });
				const rows = read.map((row) => dimensions.map((d) => ownValue(row.more, d)!));
				for (const { row, dimension, message } of rowFaults(definition, rows, structure))
					this.faults.push({
						file,
						row: read[row].rowNumber,
						column: dimension ?? dimensions[0],
						message
					});
				return [code, rows];
			})
		);
	}

	private scenarios(
		period: CellReader<number>,
		models: readonly ModelDefinition[],
		rowsOf: ReadonlyMap<string, string[][]>,
		structure: Structure,
		ledgerLast: number
	): ScenarioRecord[] {
		const rows = this.unique(
			'scenarios.csv',
			'code',
			this.table(
				'scenarios.csv',
				{
					code: cell.code,
					name: cell.name,
					kind: cell.oneOf(ScenarioKind.options),
					first: period,
					last: period,
					actuals_through: cell.orNull(period),
					follows: cell.optional,
					origin: cell.optional,
					locked: cell.yesNo,
					description: cell.prose,
					folder: cell.prose,
					visibility: cell.orNull(cell.oneOf(VISIBILITIES)),
					people: cell.text,
					owner: cell.text,
					target: cell.optional,
					without: cell.text
				},
				{ later: ['folder', 'visibility', 'people', 'owner', 'target', 'without'] }
			),
			(s) => s.code
		);
		const told = scenarioFaults(
			rows.map((s) => ({ ...s, actualsThrough: s.actuals_through })),
			ledgerLast,
			structure.calendar
		);
		for (const { scenario, column, message } of told)
			this.faults.push({
				file: 'scenarios.csv',
				row: rows.find((s) => s.code === scenario)!.rowNumber,
				column,
				message
			});
		for (const s of rows) this.scenarioRow.set(s.code, s.rowNumber);
		return rows.map((s) => {
			this.expect(
				s.kind !== 'actuals' && s.code !== 'actuals',
				'scenarios.csv',
				s.rowNumber,
				'code',
				'actuals come from the ledger and are not listed'
			);
			const folder = `scenarios/${s.code}`;
			const without = s.without.split(';').filter(Boolean);
			for (const code of without)
				this.expect(
					models.some((m) => m.code === code),
					'scenarios.csv',
					s.rowNumber,
					'without',
					`the model “${code}” is not in models.csv`
				);
			const used = models.filter((m) => !without.includes(m.code));
			const definitions = used.map((standard) => {
				const file = `${folder}/models/${standard.code}.json`;
				const definition = this.files.has(file) ? this.definition(file) : null;
				if (!definition) return standard;
				for (const part of ['code', 'dimensions'] as const)
					this.expect(
						String(definition[part]) === String(standard[part]),
						file,
						undefined,
						part,
						`“${standard[part]}” was expected, as in models/${standard.code}.json`
					);
				return definition;
			});
			return {
				scenario: {
					code: s.code,
					name: s.name,
					kind: s.kind,
					first: s.first,
					last: s.last,
					actualsThrough: s.actuals_through,
					follows: s.follows,
					origin: s.origin,
					locked: s.locked,
					description: s.description,
					folder: s.folder,
					visibility: s.visibility ?? 'all',
					people: s.people.split(';').filter(Boolean),
					owner: s.owner,
					target: s.target
				},
				definitions,
				series: this.series(`${folder}/values.csv`, definitions, rowsOf, structure, s),
				bases: this.bases(`${folder}/bases.csv`, definitions, structure),
				adjustments: this.adjustments(`${folder}/adjustments.json`, definitions, structure),
				...this.cellNotes(folder)
			};
		});
	}

	private series(
		file: string,
		definitions: readonly ModelDefinition[],
		rowsOf: ReadonlyMap<string, string[][]>,
		structure: Structure,
		scenario: { last: number }
	) {
		const { calendar } = structure;
		const blocks = blocksOf(
			structure,
			definitions.map((definition) => ({ definition, rows: rowsOf.get(definition.code)! }))
		);
		const rows = this.table(
			file,
			{ block: (t) => blockNow(cell.required(t)), line: cell.required, row: cell.text },
			{ more: true }
		);
		if (!rows.length) return [];
		const periods = Object.keys(rows[0].more).map((heading) => {
			const p = calendar.parse(heading);
			this.expect(p !== null, file, 1, heading, 'a month such as 2026-10 was expected as heading');
			this.expect(
				p === null || p <= scenario.last,
				file,
				1,
				heading,
				`the scenario ends with ${calendar.key(scenario.last)}`
			);
			return p ?? 0;
		});
		const inOrder = periods.every((p, i) => p === periods[0] + i);
		if (!this.expect(inOrder, file, 1, 'block', 'the months must follow one another without gaps')) return [];
		this.unique(file, 'row', rows, (r) => `${r.block} ${r.line} ${r.row}`);
		return rows.map((r) => {
			const block = blocks.get(r.block);
			const faults = block
				? block.typingFaults(r.line, r.row)
				: [{ column: 'line', message: `there is no line “${r.line}” in a model “${r.block}”` }];
			this.faults.push(...faults.map((f) => ({ file, row: r.rowNumber, ...f })));
			const values = Float64Array.from(Object.entries(r.more), ([heading, text]) => {
				if (text === '') return NaN;
				try {
					return cell.decimal(text);
				} catch (expected) {
					this.faults.push({
						file,
						row: r.rowNumber,
						column: heading,
						message: `“${text}” was found; ${expected} was expected`
					});
					return NaN;
				}
			});
			return { block: r.block, line: r.line, row: r.row, ...trimBlanks(periods[0], values) };
		});
	}

	private bases(file: string, definitions: readonly ModelDefinition[], structure: Structure) {
		const columns = {
			account: cell.required,
			department: cell.required,
			basis: cell.oneOf(['typed', 'last-year', 'percent-of', 'run-rate', 'driver']),
			percent: cell.orNull(cell.decimal),
			of_account: cell.optional,
			months: cell.orNull(cell.integer),
			driver: cell.optional,
			rate: cell.orNull(cell.decimal)
		};
		const rows = this.unique(
			file,
			'account',
			this.table(file, columns, { later: ['driver', 'rate'] }),
			(r) => `${r.account} ${r.department}`
		);
		return rows.map((r) => {
			let basis: Basis = { kind: 'typed' };
			if (r.basis === 'last-year' || r.basis === 'percent-of')
				this.expect(r.percent !== null, file, r.rowNumber, 'percent', 'a share such as 0.03 was expected');
			if (r.basis === 'last-year') basis = { kind: 'last-year', percent: r.percent ?? 0 };
			if (r.basis === 'percent-of')
				basis = { kind: 'percent-of', percent: r.percent ?? 0, account: r.of_account ?? '' };
			if (r.basis === 'run-rate') {
				this.expect(
					r.months !== null && r.months >= 1 && r.months <= 36,
					file,
					r.rowNumber,
					'months',
					'a number of months from 1 to 36 was expected'
				);
				basis = { kind: 'run-rate', months: r.months ?? 1 };
			}
			if (r.basis === 'driver') {
				this.expect(r.rate !== null, file, r.rowNumber, 'rate', 'a number was expected');
				basis = { kind: 'driver', driver: r.driver ?? '', rate: r.rate ?? 0 };
			}
			const entry = { account: r.account, department: r.department, basis };
			for (const { column, message } of basisFaults(entry, structure, definitions))
				this.faults.push({ file, row: r.rowNumber, column, message });
			return entry;
		});
	}

	private cellNotes(folder: string): Pick<ScenarioRecord, 'notes' | 'items' | 'attachments'> {
		const notesFile = `${folder}/notes.csv`;
		const notes = this.table(notesFile, {
			subject: (t) => subjectNow(cell.required(t)),
			at: cell.required,
			user: cell.text,
			text: cell.prose,
			answers: cell.orNull(cell.integer)
		});
		notes.forEach((n, i) =>
			this.expect(
				n.answers === null ||
					(n.answers >= 1 && n.answers <= i && notes[n.answers - 1].subject === n.subject),
				notesFile,
				n.rowNumber,
				'answers',
				'the number of an earlier note of the same cell was expected'
			)
		);
		const items = this.table(`${folder}/items.csv`, {
			subject: (t) => subjectNow(cell.required(t)),
			description: cell.name,
			quantity: cell.orNull(cell.decimal),
			rate: cell.orNull(cell.decimal),
			amount: cell.decimal
		});
		const attachments = this.table(`${folder}/attachments.csv`, {
			subject: (t) => subjectNow(cell.required(t)),
			at: cell.required,
			user: cell.text,
			name: cell.name,
			content: cell.required
		});
		return {
			notes: notes.map(({ subject, at, user, text, answers }) => ({
				subject,
				at,
				user,
				text,
				answers: answers === null ? null : answers - 1
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
				content: new Uint8Array(Buffer.from(content, 'base64'))
			}))
		};
	}

	private rules(treeFor: (dimension: string) => Tree<TreeItem> | undefined): CombinationRule[] {
		const file = 'combination-rules.json';
		if (!this.files.has(file)) return [];
		const list = this.json(file, z.array(CombinationRule).max(500)) ?? [];
		list.forEach((rule, i) => {
			const column = `${i + 1}`;
			if (list.findIndex((r) => r.code === rule.code) < i)
				this.faults.push({ file, column, message: `“${rule.code}” stands twice` });
			for (const message of ruleFaults(rule, treeFor)) this.faults.push({ file, column, message });
		});
		return list;
	}

	private profiles(perYear: number): Profile[] {
		const file = 'profiles.json';
		if (!this.files.has(file)) return [];
		const list = this.json(file, z.array(Profile).max(200)) ?? [];
		list.forEach((profile, i) => {
			if (profile.weights.length !== perYear)
				this.faults.push({
					file,
					column: `${i + 1}.weights`,
					message: `there are ${profile.weights.length} weights; ${perYear} are needed, one a period of the year`
				});
			for (const key of ['code', 'name'] as const)
				if (list.findIndex((p) => p[key] === profile[key]) < i)
					this.faults.push({ file, column: `${i + 1}`, message: `“${profile[key]}” stands twice` });
		});
		return list;
	}

	private adjustments(
		file: string,
		definitions: readonly ModelDefinition[],
		structure: Structure
	): AdjustmentDefinition[] {
		if (!this.files.has(file)) return [];
		const list = (this.json(file, z.array(AdjustmentDefinition).max(200)) ?? []).map((a) => ({
			...a,
			steps: a.steps.map((step) => ({
				...step,
				lines: step.lines.map((l) => ({ ...l, block: blockNow(l.block) }))
			}))
		}));
		const blocks = blocksOf(
			structure,
			definitions.map((definition) => ({ definition, rows: [] }))
		);
		list.forEach((a, i) => {
			const column = `${i + 1}`;
			this.expect(
				list.findIndex((b) => b.code === a.code) === i,
				file,
				undefined,
				column,
				`“${a.code}” stands twice`
			);
			// What was adopted does nothing any more, whatever it once spoke of.
			if (a.adopted === null)
				for (const fault of adjustmentFaults(a, structure, blocks))
					this.faults.push({ file, column: `${column}.${fault.column}`, message: fault.message });
		});
		return list;
	}

	private entries(
		calendar: Calendar,
		dimensions: readonly Dimension[],
		ledgerAccounts: ReadonlySet<string>,
		isDepartment: (code: string) => boolean,
		isMember: (dimension: string, member: string) => boolean
	): Entry[] {
		const entries: Entry[] = [];
		const columns = dimensions.map((d) => d.code);
		const paths = [...this.files.keys()].filter((f) => f.startsWith('ledger/')).sort();
		for (const file of paths) {
			const name = file.slice('ledger/'.length, -'.csv'.length);
			let month: number;
			try {
				month = monthIn(calendar, ledgerSpan(calendar))(name);
			} catch (expected) {
				this.faults.push({ file, column: 'name', message: `“${name}” was found; ${expected} was expected` });
				continue;
			}
			const rows = this.table(
				file,
				{
					date: isoDate,
					ledger_account: cell.required,
					department: cell.required,
					amount: cell.decimal,
					document: cell.foreign,
					party: cell.foreign,
					description: cell.foreign
				},
				{ more: columns }
			);
			for (const r of rows) {
				this.expect(
					calendar.periodOf(r.date) === month,
					file,
					r.rowNumber,
					'date',
					`${r.date} does not lie in the file’s month`
				);
				this.expect(
					ledgerAccounts.has(r.ledger_account),
					file,
					r.rowNumber,
					'ledger_account',
					`“${r.ledger_account}” is not in ledger-accounts.csv`
				);
				this.expect(
					isDepartment(r.department),
					file,
					r.rowNumber,
					'department',
					`“${r.department}” is no department that takes figures`
				);
				const tags: Record<string, string> = {};
				for (const d of columns) {
					const member = ownValue(r.more, d);
					if (!member) continue;
					tags[d] = member;
					this.expect(isMember(d, member), file, r.rowNumber, d, `there is no ${d} “${member}”`);
				}
				entries.push({
					period: month,
					date: r.date,
					ledgerAccount: r.ledger_account,
					department: r.department,
					amount: r.amount,
					document: r.document,
					party: r.party,
					description: r.description,
					tags
				});
			}
		}
		return entries;
	}

	private users(exists: (department: string) => boolean) {
		const rows = this.unique(
			'users.csv',
			'email',
			this.table(
				'users.csv',
				{
					email: (t) => {
						if (!/^[^\s@]+@[^\s@]+$/.test(t)) throw 'an e-mail address';
						return t.toLowerCase();
					},
					name: cell.name,
					role: cell.oneOf(Role.options),
					departments: (t) => t.split(';').filter(Boolean)
				},
				{ needed: true }
			),
			(u) => u.email
		);
		return rows.map(({ email, name, role, departments, rowNumber }) => {
			this.expect(
				departments.length > 0,
				'users.csv',
				rowNumber,
				'departments',
				'at least one department was expected'
			);
			for (const d of departments)
				this.expect(exists(d), 'users.csv', rowNumber, 'departments', `there is no department “${d}”`);
			return { email, name, role, departments };
		});
	}

	/** Nobody sees a scenario whose figures rest on one that they may not see. */
	private shownThrough(
		scenarios: readonly ScenarioRecord[],
		users: readonly User[],
		departments: Tree<Department>
	): void {
		const reads = new Map(
			scenarios.map(({ scenario, definitions }) => [
				scenario.code,
				foreignReferences(definitions.map((definition) => ({ definition, rows: [] }))).map((r) => r.scenario)
			])
		);
		const list = scenarios.map((s) => s.scenario);
		for (const { scenario, through, user } of shownThrough(list, reads, users, departments))
			this.faults.push({
				file: 'scenarios.csv',
				row: this.scenarioRow.get(scenario),
				column: 'visibility',
				message: `its figures rest on “${through}”, which ${user} may not see; show that one to all who see this one`
			});
	}

	private rounds(scenarios: readonly ScenarioRecord[]) {
		const rows = this.unique(
			'rounds.csv',
			'code',
			this.table('rounds.csv', {
				code: cell.code,
				name: cell.name,
				scenario: cell.required,
				due: isoDate,
				instructions: cell.prose
			}),
			(r) => r.code
		);
		return rows.map(({ code, name, scenario, due, instructions, rowNumber }) => {
			this.expect(
				scenarios.some((s) => s.scenario.code === scenario),
				'rounds.csv',
				rowNumber,
				'scenario',
				`the scenario “${scenario}” is not in scenarios.csv`
			);
			return { code, name, scenario, due, instructions };
		});
	}
}

/** A month within a span. */
const monthIn =
	(calendar: Calendar, { from, to }: MonthSpan): CellReader<number> =>
	(text) => {
		const month = calendar.parse(text);
		if (month === null) throw 'a month such as 2026-10';
		if (month < from || month > to) throw `a month from ${calendar.key(from)} to ${calendar.key(to)}`;
		return month;
	};

const anyCalendar = monthCalendar(1);
const isoDate: CellReader<string> = (t) => {
	if (anyCalendar.periodOf(t) === null) throw 'a date such as 2026-10-31';
	return t;
};

function figures(text: string): Record<string, number> {
	try {
		return z.record(z.string(), z.number()).parse(JSON.parse(text));
	} catch {
		throw 'figures as JSON, account to number';
	}
}

function dedupe<T extends { code: string }>(items: readonly T[]): T[] {
	return [...new Map(items.map((i) => [i.code, i])).values()];
}
