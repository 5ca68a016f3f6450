/** Reads a company from the files of a folder and checks that all of it fits together. */
import { z } from 'zod';
import { monthCalendar, type Calendar } from '../../core/calendar/calendar';
import { SUBMISSION_STATES } from '../../core/collect/submission';
import {
	AdjustmentDefinition,
	AccountType,
	CombinationRule,
	Profile,
	LEDGER_BLOCK,
	ModelDefinition,
	NumberFormat,
	ScenarioKind,
	TimeRollup,
	rowKey,
	type Basis,
	type Company,
	type Dimension,
	type Member
} from '../../core/model/schema';
import { buildTree, TreeError, type Tree, type TreeItem } from '../../core/model/tree';
import { ruleFaults } from '../../core/plan/combinations';
import { trimBlanks } from '../../core/plan/series';
import { takesTyping } from '../../core/plan/scope';
import { definitionFaults } from '../../core/plan/check-definition';
import type { NameSources } from '../../core/plan/names';
import { Refusal, type Fault } from '../refusal';
import { Role, VISIBILITIES, type CompanyData, type Entry, type ScenarioRecord } from './data';
import * as cell from './table';
import { readTable, type CellReader } from './table';
import { FORMAT } from './write';

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
	constructor(private readonly files: ReadonlyMap<string, string>) {}

	private table<C extends Record<string, CellReader<unknown>>>(
		file: string,
		columns: C,
		options: { needed?: boolean; more?: boolean | readonly string[]; later?: readonly string[] } = {}
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

	private tree<T extends TreeItem & { rowNumber?: number }>(file: string, items: readonly T[]): Tree<T> {
		try {
			return buildTree(items);
		} catch (e) {
			if (!(e instanceof TreeError)) throw e;
			const row = items.filter((i) => i.code === e.code).at(-1)?.rowNumber;
			this.faults.push({ file, row, column: 'parent', message: e.message });
			return buildTree(dedupe(items).map((i) => ({ ...i, parent: null })));
		}
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
			fiscalStart: file.fiscalYearStart,
			decimals: file.decimals
		};
		const calendar = monthCalendar(company.fiscalStart);
		const period: CellReader<number> = (t) => {
			const p = calendar.parse(t);
			if (p === null) throw 'a month such as 2026-10';
			return p;
		};
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
				name: cell.required,
				parent: cell.optional,
				type: cell.oneOf(AccountType.options),
				rollup: cell.oneOf(TimeRollup.options),
				format: cell.oneOf(NumberFormat.options),
				cash: cell.orNull(cell.yesNo)
			},
			{ needed: true, later: ['cash'] }
		);
		const accounts = listed.map(({ cash, ...a }) => ({ ...a, nonCash: cash === false }));
		const accountTree = this.tree('accounts.csv', accounts);
		const takesFigures = (code: string) => accountTree.get(code) !== undefined && accountTree.isLeaf(code);

		const ledgerAccounts = this.unique(
			'ledger-accounts.csv',
			'code',
			this.table(
				'ledger-accounts.csv',
				{ code: cell.code, name: cell.required, account: cell.optional },
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
			this.table('entities.csv', { code: cell.code, name: cell.required }, { needed: true }),
			(e) => e.code
		);
		const departments = this.table(
			'departments.csv',
			{ code: cell.code, name: cell.required, parent: cell.optional, entity: cell.required },
			{ needed: true }
		);
		const departmentTree = this.tree('departments.csv', departments);
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
		const memberTrees = new Map(
			dimensions.map((d) => [d.code, this.tree(`dimensions/${d.code}.csv`, d.members)])
		);
		const isMember = (dimension: string, member: string) =>
			dimension === 'department'
				? isDepartment(member)
				: memberTrees.get(dimension)?.get(member) !== undefined;

		const models = this.models(isMember);
		const scenarios = this.scenarios(calendar, period, models, takesFigures, isDepartment);
		const sources: NameSources = {
			accounts: this.tree('accounts.csv', accounts),
			dimensions,
			currency: company.currency,
			scenarios: ['actuals', ...scenarios.map((s) => s.scenario.code)]
		};
		const definitions = models.map((m) => m.definition);
		const check = (file: string, d: ModelDefinition, all: readonly ModelDefinition[]) => {
			for (const fault of definitionFaults(d, all, sources, calendar)) this.faults.push({ file, ...fault });
		};
		for (const d of definitions) check(`models/${d.code}.json`, d, definitions);
		for (const { scenario, definitions: own } of scenarios)
			for (const d of own) {
				const file = `scenarios/${scenario.code}/models/${d.code}.json`;
				if (this.files.has(file)) check(file, d, own);
			}
		const entries = this.entries(
			calendar,
			dimensions,
			new Set(ledgerAccounts.map((l) => l.code)),
			isDepartment,
			isMember
		);
		const rules = this.rules((d) => (d === 'department' ? departmentTree : memberTrees.get(d)));
		const users = this.users((code) => departmentTree.get(code) !== undefined);
		const rounds = this.rounds(scenarios);
		const known = new Set(rounds.map((r) => r.code));
		const submissions = this.table('submissions.csv', {
			round: cell.required,
			department: cell.required,
			state: cell.oneOf(SUBMISSION_STATES),
			due: isoDate,
			figures: (t) => (t === '' ? null : figures(t))
		});
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
				subject: cell.text,
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
			debits: cell.decimal,
			unmapped: cell.decimal
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
			models: models.map((m) => ({ code: m.definition.code, rows: m.rows })),
			rules,
			profiles: this.profiles(calendar.periodsPerYear),
			scenarios,
			entries,
			users,
			rounds,
			submissions: submissions.map(strip),
			events: events.map(strip),
			journal: journal.map(strip),
			feedRuns: feedRuns.map(strip)
		};
	}

	private dimensions(): Dimension[] {
		const list = this.unique(
			'dimensions.csv',
			'code',
			this.table('dimensions.csv', { code: cell.code, name: cell.required }),
			(d) => d.code
		);
		return list.map(({ code, name, rowNumber }) => {
			this.expect(code !== 'department', 'dimensions.csv', rowNumber, 'code', '“department” is built in');
			const file = `dimensions/${code}.csv`;
			const rows = this.table(
				file,
				{ code: cell.code, name: cell.required, parent: cell.optional },
				{ needed: true, more: true }
			);
			const members = rows.map((r): Member & { rowNumber: number } => ({
				code: r.code,
				name: r.name,
				parent: r.parent,
				attributes: Object.fromEntries(Object.entries(r.more).filter(([, v]) => v !== '')),
				rowNumber: r.rowNumber
			}));
			// Checked as a tree while the row numbers are still known.
			this.tree(file, members);
			return { code, name, members: dedupe(members).map(({ rowNumber: _r, ...m }) => m) };
		});
	}

	private definition(file: string): ModelDefinition | null {
		return this.json(file, ModelDefinition as z.ZodType<ModelDefinition>);
	}

	private models(
		isMember: (dimension: string, member: string) => boolean
	): { definition: ModelDefinition; rows: string[][] }[] {
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
			return [{ definition, rows: this.rows(definition, isMember) }];
		});
	}

	private rows(
		definition: ModelDefinition,
		isMember: (dimension: string, member: string) => boolean
	): string[][] {
		if (!definition.dimensions.length) return [];
		const file = `models/${definition.code}.rows.csv`;
		const columns = Object.fromEntries(definition.dimensions.map((d) => [d, cell.required]));
		const rows = this.table(file, columns, { needed: true });
		const seen = new Set<string>();
		return rows.map((row) => {
			const coordinate = definition.dimensions.map((d) => (row as unknown as Record<string, string>)[d]);
			definition.dimensions.forEach((d, i) =>
				this.expect(isMember(d, coordinate[i]), file, row.rowNumber, d, `there is no ${d} “${coordinate[i]}”`)
			);
			const key = rowKey(coordinate);
			this.expect(
				!seen.has(key),
				file,
				row.rowNumber,
				definition.dimensions[0],
				'the combination stands twice'
			);
			seen.add(key);
			return coordinate;
		});
	}

	private scenarios(
		calendar: Calendar,
		period: CellReader<number>,
		models: readonly { definition: ModelDefinition; rows: string[][] }[],
		takesFigures: (code: string) => boolean,
		isDepartment: (code: string) => boolean
	): ScenarioRecord[] {
		const rows = this.unique(
			'scenarios.csv',
			'code',
			this.table(
				'scenarios.csv',
				{
					code: cell.code,
					name: cell.required,
					kind: cell.oneOf(ScenarioKind.options),
					first: period,
					last: period,
					actuals_through: cell.orNull(period),
					follows: cell.optional,
					origin: cell.optional,
					locked: cell.yesNo,
					description: cell.text,
					folder: cell.text,
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
		this.unique('scenarios.csv', 'name', rows, (s) => s.name);
		const earlier = new Set<string>();
		const codes = new Set(rows.map((s) => s.code));
		return rows.map((s) => {
			this.expect(
				s.kind !== 'actuals' && s.code !== 'actuals',
				'scenarios.csv',
				s.rowNumber,
				'code',
				'actuals come from the ledger and are not listed'
			);
			this.expect(
				s.last >= s.first,
				'scenarios.csv',
				s.rowNumber,
				'last',
				'the last month lies before the first'
			);
			this.expect(
				s.last - s.first < 120,
				'scenarios.csv',
				s.rowNumber,
				'last',
				'a scenario spans at most ten years'
			);
			this.expect(
				s.follows === null || earlier.has(s.follows),
				'scenarios.csv',
				s.rowNumber,
				'follows',
				`“${s.follows}” is not listed above; a scenario follows an earlier one`
			);
			this.expect(
				s.target === null || (s.target !== s.code && codes.has(s.target)),
				'scenarios.csv',
				s.rowNumber,
				'target',
				`“${s.target}” is no other scenario`
			);
			earlier.add(s.code);
			const folder = `scenarios/${s.code}`;
			const without = s.without.split(';').filter(Boolean);
			for (const code of without)
				this.expect(
					models.some((m) => m.definition.code === code),
					'scenarios.csv',
					s.rowNumber,
					'without',
					`the model “${code}” is not in models.csv`
				);
			const used = models.filter((m) => !without.includes(m.definition.code));
			const definitions = used.map(({ definition }) => {
				const own = `${folder}/models/${definition.code}.json`;
				return (this.files.has(own) ? this.definition(own) : null) ?? definition;
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
				series: this.series(
					`${folder}/values.csv`,
					calendar,
					definitions,
					models,
					takesFigures,
					isDepartment
				),
				bases: this.bases(`${folder}/bases.csv`, definitions, takesFigures, isDepartment),
				adjustments: this.adjustments(`${folder}/adjustments.json`, definitions, calendar, takesFigures),
				...this.cellNotes(folder)
			};
		});
	}

	private series(
		file: string,
		calendar: Calendar,
		definitions: readonly ModelDefinition[],
		models: readonly { definition: ModelDefinition; rows: string[][] }[],
		takesFigures: (code: string) => boolean,
		isDepartment: (code: string) => boolean
	) {
		const rowsOf = new Map(
			models.map((m) => [
				m.definition.code,
				new Set(m.definition.dimensions.length ? m.rows.map(rowKey) : [''])
			])
		);
		const rows = this.table(
			file,
			{ block: cell.required, line: cell.required, row: cell.text },
			{ more: true }
		);
		if (!rows.length) return [];
		const periods = Object.keys(rows[0].more).map((heading) => {
			const p = calendar.parse(heading);
			this.expect(p !== null, file, 1, heading, 'a month such as 2026-10 was expected as heading');
			return p ?? 0;
		});
		const inOrder = periods.every((p, i) => p === periods[0] + i);
		if (!this.expect(inOrder, file, 1, 'block', 'the months must follow one another without gaps')) return [];
		this.unique(file, 'row', rows, (r) => `${r.block} ${r.line} ${r.row}`);
		return rows.map((r) => {
			if (r.block === LEDGER_BLOCK) {
				this.expect(
					takesFigures(r.line),
					file,
					r.rowNumber,
					'line',
					`“${r.line}” is no planning account that takes figures`
				);
				this.expect(
					isDepartment(r.row),
					file,
					r.rowNumber,
					'row',
					`“${r.row}” is no department that takes figures`
				);
			} else {
				const line = definitions.find((d) => d.code === r.block)?.lines.find((l) => l.code === r.line);
				if (
					this.expect(
						line !== undefined,
						file,
						r.rowNumber,
						'line',
						`there is no line “${r.line}” in a model “${r.block}”`
					)
				) {
					this.expect(
						takesTyping(line!),
						file,
						r.rowNumber,
						'line',
						`“${r.line}” is calculated and takes no values`
					);
					this.expect(
						rowsOf.get(r.block)!.has(r.row),
						file,
						r.rowNumber,
						'row',
						`“${r.row}” is no row of the model “${r.block}”`
					);
				}
			}
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

	private bases(
		file: string,
		definitions: readonly ModelDefinition[],
		takesFigures: (code: string) => boolean,
		isDepartment: (code: string) => boolean
	) {
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
		const rows = this.table(file, columns, { later: ['driver', 'rate'] });
		return rows.map((r) => {
			this.expect(
				takesFigures(r.account),
				file,
				r.rowNumber,
				'account',
				`“${r.account}” is no planning account that takes figures`
			);
			this.expect(
				isDepartment(r.department),
				file,
				r.rowNumber,
				'department',
				`“${r.department}” is no department that takes figures`
			);
			let basis: Basis = { kind: 'typed' };
			if (r.basis === 'last-year' || r.basis === 'percent-of')
				this.expect(r.percent !== null, file, r.rowNumber, 'percent', 'a share such as 0.03 was expected');
			if (r.basis === 'last-year') basis = { kind: 'last-year', percent: r.percent ?? 0 };
			if (r.basis === 'percent-of') {
				this.expect(
					r.of_account !== null && takesFigures(r.of_account),
					file,
					r.rowNumber,
					'of_account',
					`“${r.of_account ?? ''}” is no planning account that takes figures`
				);
				basis = { kind: 'percent-of', percent: r.percent ?? 0, account: r.of_account ?? '' };
			}
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
				const [model, line] = (r.driver ?? '').split('.');
				const known = definitions.find((d) => d.code === model)?.lines.some((l) => l.code === line);
				this.expect(
					known === true,
					file,
					r.rowNumber,
					'driver',
					`“${r.driver ?? ''}” is no line of a driver model (model.line)`
				);
				this.expect(r.rate !== null, file, r.rowNumber, 'rate', 'a number was expected');
				basis = { kind: 'driver', driver: r.driver ?? '', rate: r.rate ?? 0 };
			}
			return { account: r.account, department: r.department, basis };
		});
	}

	private cellNotes(folder: string): Pick<ScenarioRecord, 'notes' | 'items' | 'attachments'> {
		const notesFile = `${folder}/notes.csv`;
		const notes = this.table(notesFile, {
			subject: cell.required,
			at: cell.required,
			user: cell.text,
			text: cell.required,
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
			subject: cell.required,
			description: cell.required,
			quantity: cell.orNull(cell.decimal),
			rate: cell.orNull(cell.decimal),
			amount: cell.decimal
		});
		const attachments = this.table(`${folder}/attachments.csv`, {
			subject: cell.required,
			at: cell.required,
			user: cell.text,
			name: cell.required,
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
		calendar: Calendar,
		takesFigures: (code: string) => boolean
	): AdjustmentDefinition[] {
		if (!this.files.has(file)) return [];
		const list = this.json(file, z.array(AdjustmentDefinition).max(200)) ?? [];
		list.forEach((a, i) => {
			const column = `${i + 1}`;
			this.expect(
				list.findIndex((b) => b.code === a.code) === i,
				file,
				undefined,
				column,
				`“${a.code}” stands twice`
			);
			for (const step of a.steps) {
				for (const l of step.lines) {
					const line = definitions.find((d) => d.code === l.block)?.lines.find((x) => x.code === l.line);
					this.expect(
						l.block === LEDGER_BLOCK
							? takesFigures(l.line)
							: line !== undefined && line.formula === undefined,
						file,
						undefined,
						`${column}.lines`,
						`“${l.block}.${l.line}” is no typed line and no planning account that takes figures`
					);
				}
				for (const month of [step.from, step.to])
					this.expect(
						month === undefined || calendar.parse(month) !== null,
						file,
						undefined,
						column,
						`“${month}” is no month such as 2026-10`
					);
			}
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
			const period = calendar.parse(file.slice('ledger/'.length, -'.csv'.length));
			if (
				!this.expect(
					period !== null,
					file,
					undefined,
					'name',
					'the file’s name must be a month such as 2026-10.csv'
				)
			)
				continue;
			const rows = this.table(
				file,
				{
					date: isoDate,
					ledger_account: cell.required,
					department: cell.required,
					amount: cell.decimal,
					document: cell.text,
					party: cell.text,
					description: cell.text
				},
				{ more: columns }
			);
			for (const r of rows) {
				this.expect(
					calendar.periodOf(r.date) === period,
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
					const member = r.more[d];
					if (!member) continue;
					tags[d] = member;
					this.expect(isMember(d, member), file, r.rowNumber, d, `there is no ${d} “${member}”`);
				}
				entries.push({
					period: period!,
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
					name: cell.required,
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

	private rounds(scenarios: readonly ScenarioRecord[]) {
		const rows = this.unique(
			'rounds.csv',
			'code',
			this.table('rounds.csv', {
				code: cell.code,
				name: cell.required,
				scenario: cell.required,
				due: isoDate,
				instructions: cell.text
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
