/** A company as files of a folder: path → content. The same company always gives the same files. */
import { periodRange } from '../../core/calendar/calendar';
import { calendarOf } from '../../core/calendar/calendar-of';
import type { ModelDefinition } from '../../core/blocks/driver-model/schema';
import { ownValue } from '../../core/text';
import type { CompanyData, Entry, ScenarioRecord } from '../company/data';
import { writeTable } from './table';

export const FORMAT = 1;

const json = (value: unknown) => JSON.stringify(value, null, '\t') + '\n';

export function writeCompany(data: CompanyData): Map<string, string> {
	const calendar = calendarOf(data.company.calendar);
	const period = (p: number | null) => (p === null ? null : calendar.key(p));
	const files = new Map<string, string>();
	const table = (path: string, headings: string[], rows: Iterable<readonly unknown[]>) =>
		files.set(path, writeTable(headings, rows));

	files.set(
		'company.json',
		json({
			format: FORMAT,
			name: data.company.name,
			currency: data.company.currency,
			fiscalYearStart: data.company.calendar.fiscalStart,
			decimals: data.company.decimals,
			closedThrough: period(data.closedThrough)
		})
	);
	table(
		'accounts.csv',
		['code', 'name', 'parent', 'type', 'rollup', 'format', 'cash'],
		data.accounts.map((a) => [a.code, a.name, a.parent, a.type, a.rollup, a.format, a.nonCash ? 'no' : ''])
	);
	table(
		'ledger-accounts.csv',
		['code', 'name', 'account'],
		data.ledgerAccounts.map((l) => [l.code, l.name, l.account])
	);
	table(
		'entities.csv',
		['code', 'name'],
		data.entities.map((e) => [e.code, e.name])
	);
	table(
		'departments.csv',
		['code', 'name', 'parent', 'entity'],
		data.departments.map((d) => [d.code, d.name, d.parent, d.entity])
	);
	table(
		'dimensions.csv',
		['code', 'name'],
		data.dimensions.map((d) => [d.code, d.name])
	);
	for (const d of data.dimensions) {
		const attributes = [...new Set(d.members.flatMap((m) => Object.keys(m.attributes)))];
		table(
			`dimensions/${d.code}.csv`,
			['code', 'name', 'parent', ...attributes],
			d.members.map((m) => [
				m.code,
				m.name,
				m.parent,
				...attributes.map((a) => ownValue(m.attributes, a) ?? '')
			])
		);
	}
	const standard = standardDefinitions(data);
	// A model that no scenario has any more has no form either.
	const models = data.models.filter((m) => standard.has(m.code));
	table(
		'models.csv',
		['code'],
		models.map((m) => [m.code])
	);
	for (const model of models) {
		const definition = standard.get(model.code)!;
		files.set(`models/${model.code}.json`, json(definition));
		if (definition.dimensions.length)
			table(`models/${model.code}.rows.csv`, definition.dimensions, model.rows);
	}
	if (data.rules.length) files.set('combination-rules.json', json(data.rules));
	if (data.profiles.length) files.set('profiles.json', json(data.profiles));
	table(
		'scenarios.csv',
		[
			'code',
			'name',
			'kind',
			'first',
			'last',
			'actuals_through',
			'follows',
			'origin',
			'locked',
			'description',
			'folder',
			'visibility',
			'people',
			'owner',
			'target',
			'without'
		],
		data.scenarios.map(({ scenario: s, definitions }) => [
			s.code,
			s.name,
			s.kind,
			period(s.first),
			period(s.last),
			period(s.actualsThrough),
			s.follows,
			s.origin,
			s.locked,
			s.description,
			s.folder,
			s.visibility,
			s.people.join(';'),
			s.owner,
			s.target,
			models
				.filter((m) => !definitions.some((d) => d.code === m.code))
				.map((m) => m.code)
				.join(';')
		])
	);
	for (const s of data.scenarios) writeScenario(s, standard, files, calendar.key);
	const byPeriod = new Map<number, Entry[]>();
	for (const e of data.entries) {
		const list = byPeriod.get(e.period);
		if (list) list.push(e);
		else byPeriod.set(e.period, [e]);
	}
	const dimensions = data.dimensions.map((d) => d.code);
	for (const [p, entries] of [...byPeriod].sort((a, b) => a[0] - b[0]))
		files.set(`ledger/${calendar.key(p)}.csv`, writeEntries(entries, dimensions));
	table(
		'users.csv',
		['email', 'name', 'role', 'departments'],
		data.users.map((u) => [u.email, u.name, u.role, u.departments.join(';')])
	);
	table(
		'rounds.csv',
		['code', 'name', 'scenario', 'due', 'instructions'],
		data.rounds.map((r) => [r.code, r.name, r.scenario, r.due, r.instructions])
	);
	table(
		'submissions.csv',
		['round', 'department', 'state', 'due', 'figures'],
		data.submissions.map((s) => [
			s.round,
			s.department,
			s.state,
			s.due,
			s.figures ? JSON.stringify(s.figures) : ''
		])
	);
	table(
		'submission-events.csv',
		['round', 'department', 'at', 'user', 'action', 'comment'],
		data.events.map((e) => [e.round, e.department, e.at, e.user, e.action, e.comment])
	);
	table(
		'feed-runs.csv',
		['at', 'user', 'file', 'period', 'entries', 'replaced', 'debits', 'unmapped'],
		data.feedRuns.map((r) => [
			r.at,
			r.user,
			r.file,
			period(r.period),
			r.entries,
			r.replaced,
			r.debits,
			r.unmapped
		])
	);
	table(
		'journal.csv',
		['at', 'user', 'kind', 'scenario', 'subject', 'before', 'after', 'why', 'batch'],
		data.journal.map((j) => [j.at, j.user, j.kind, j.scenario, j.subject, j.before, j.after, j.why, j.batch])
	);
	return files;
}

/** Ledger entries as a table; also the form of a month's file for the feed. */
export function writeEntries(entries: readonly Entry[], dimensions: readonly string[]): string {
	return writeTable(
		['date', 'ledger_account', 'department', 'amount', 'document', 'party', 'description', ...dimensions],
		entries.map((e) => [
			e.date,
			e.ledgerAccount,
			e.department,
			e.amount,
			e.document,
			e.party,
			e.description,
			...dimensions.map((d) => ownValue(e.tags, d) ?? '')
		])
	);
}

/** The form of each model that most scenarios use; theirs need no file of their own. */
function standardDefinitions(data: CompanyData): Map<string, ModelDefinition> {
	const result = new Map<string, ModelDefinition>();
	for (const { code } of data.models) {
		const uses = new Map<string, { definition: ModelDefinition; count: number }>();
		for (const s of data.scenarios)
			for (const definition of s.definitions) {
				if (definition.code !== code) continue;
				const key = JSON.stringify(definition);
				const use = uses.get(key) ?? { definition, count: 0 };
				use.count++;
				uses.set(key, use);
			}
		const [most] = [...uses.values()].sort((a, b) => b.count - a.count);
		if (most) result.set(code, most.definition);
	}
	return result;
}

function writeScenario(
	{ scenario, definitions, series, bases, adjustments, notes, items, attachments }: ScenarioRecord,
	standard: ReadonlyMap<string, ModelDefinition>,
	files: Map<string, string>,
	key: (p: number) => string
) {
	const folder = `scenarios/${scenario.code}`;
	for (const definition of definitions)
		if (JSON.stringify(definition) !== JSON.stringify(standard.get(definition.code)))
			files.set(`${folder}/models/${definition.code}.json`, json(definition));
	if (bases.length)
		files.set(
			`${folder}/bases.csv`,
			writeTable(
				['account', 'department', 'basis', 'percent', 'of_account', 'months', 'driver', 'rate'],
				bases.map(({ account, department, basis }) => [
					account,
					department,
					basis.kind,
					'percent' in basis ? basis.percent : null,
					basis.kind === 'percent-of' ? basis.account : null,
					basis.kind === 'run-rate' ? basis.months : null,
					basis.kind === 'driver' ? basis.driver : null,
					basis.kind === 'driver' ? basis.rate : null
				])
			)
		);
	if (adjustments.length) files.set(`${folder}/adjustments.json`, json(adjustments));
	if (notes.length)
		files.set(
			`${folder}/notes.csv`,
			writeTable(
				['subject', 'at', 'user', 'text', 'answers'],
				notes.map((n) => [n.subject, n.at, n.user, n.text, n.answers === null ? null : n.answers + 1])
			)
		);
	if (items.length)
		files.set(
			`${folder}/items.csv`,
			writeTable(
				['subject', 'description', 'quantity', 'rate', 'amount'],
				items.map((i) => [i.subject, i.description, i.quantity, i.rate, i.amount])
			)
		);
	if (attachments.length)
		files.set(
			`${folder}/attachments.csv`,
			writeTable(
				['subject', 'at', 'user', 'name', 'content'],
				attachments.map((a) => [a.subject, a.at, a.user, a.name, Buffer.from(a.content).toString('base64')])
			)
		);
	if (!series.length) return;
	const first = Math.min(...series.map((s) => s.first));
	const last = Math.max(...series.map((s) => s.first + s.values.length - 1));
	const periods = periodRange(first, last);
	files.set(
		`${folder}/values.csv`,
		writeTable(
			['block', 'line', 'row', ...periods.map(key)],
			series.map((s) => [
				s.block,
				s.line,
				s.row,
				...periods.map((p) => {
					const v = s.values[p - s.first];
					return v === undefined || Number.isNaN(v) ? null : v;
				})
			])
		)
	);
}
