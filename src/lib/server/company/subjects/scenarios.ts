/** Scenarios: who sees them, over which months, what they rest on, and all that they consist of. */
import { z } from 'zod';
import type { Knex } from 'knex';
import { laterYearsFrom, laterYearsText, type LaterYears } from '../../../core/calendar/spec';
import { ScenarioKind, type Scenario } from '../../../core/scenario/schema';
import { scenarioFaults } from '../../../core/scenario/check-scenarios';
import { VISIBILITIES, type Shown } from '../../platform/auth/roles';
import { oncePer, type Reading } from '../reading';
import { tableForm } from '../form';
import type { Kept } from '../holding';
import type { ScenarioFolder, ScenarioPart, ScenarioPlace, Subject } from '../subject';
import * as cell from '../table';
import { ENTRIES, lastOf } from './entries';
import { modelNames } from '../../../core/blocks/driver-model/names';
import { structureOf } from './dimensions';
import { checkForm, formFile, MODELS } from './models';
import { checkScheduleForm, namesOfSchedules, scheduleFile, SCHEDULES } from './schedules';
import { PARTS, type ScenarioParts } from './scenario/parts';
import { RATES } from './rates';
import * as stored from '../../platform/db/stored';

/** A scenario with what says where it is kept and who sees it. */
export interface ListedScenario extends Scenario, Shown {
	/** Path in the list of scenarios, its parts joined by "/"; empty at the top. */
	folder: string;
	/** The scenario that holds its targets. */
	target: string | null;
}

export type ScenarioRecord = { scenario: ListedScenario } & ScenarioParts;

const USUAL = {
	laterYears: null,
	rates: null,
	actualsThrough: null,
	follows: null,
	origin: null,
	locked: false,
	description: '',
	folder: '',
	visibility: 'all',
	owner: '',
	target: null
} as const;

/** A scenario that says and consists of no more than is said of it: open, alone, seen by all. */
export const scenarioOf = ({
	scenario,
	...held
}: {
	scenario: Partial<ListedScenario> & Pick<ListedScenario, 'code' | 'name' | 'kind' | 'first' | 'last'>;
} & Partial<ScenarioParts>): ScenarioRecord => ({
	...(Object.fromEntries(PARTS.map(({ name }) => [name, []])) as unknown as ScenarioParts),
	...held,
	scenario: { ...USUAL, people: [], ...scenario }
});

const laterYears: cell.CellReader<LaterYears | null> = (text) => {
	try {
		return laterYearsFrom(text);
	} catch (e) {
		throw (e as RangeError).message;
	}
};

const FORM = tableForm({
	path: 'scenarios.csv',
	columns: {
		code: cell.code,
		name: cell.name,
		kind: cell.oneOf(ScenarioKind.options),
		first: cell.period,
		last: cell.period,
		actuals_through: cell.orNull(cell.period),
		follows: cell.optional,
		origin: cell.optional,
		locked: cell.yesNo,
		description: cell.prose,
		folder: cell.prose,
		visibility: cell.orNull(cell.oneOf(VISIBILITIES)),
		people: cell.list,
		owner: cell.text,
		target: cell.optional,
		without: cell.list,
		later_years: laterYears,
		rates: cell.optional
	},
	notes: {
		visibility:
			'all, finance, people; whoever sees a scenario has to see those that it follows or whose lines its formulas read',
		people: 'e-mails joined by `;`',
		owner: 'an e-mail',
		target: 'the scenario that holds its targets',
		without: 'models that it does not have, joined by `;`',
		later_years:
			'from which fiscal year on its periods are coarser than months, and how each year is divided: `2029:quarter;half;year`',
		rates: 'the set of exchange rates that it is translated by; empty: that of actuals'
	},
	later: {
		folder: 'all scenarios stand at the top of the list',
		visibility: 'everybody sees every scenario',
		people: 'no scenario is for named people',
		owner: 'no scenario has an owner',
		target: 'no scenario has targets',
		without: 'every scenario has every driver model',
		later_years: 'every year stands in the company’s periods',
		rates: 'every scenario is translated by the rates of actuals'
	},
	unique: ['code']
});

export const SCENARIOS: Subject<'scenarios', ScenarioRecord[]> = {
	name: 'scenarios',
	files: [FORM, ...PARTS.flatMap((p) => p.files)],
	read(folder) {
		const rows = rowsOf(folder);
		const codes = rows.map((s) => s.code);
		const models = folder.of(MODELS).map((m) => m.definition);
		const schedules = folder.of(SCHEDULES);
		const { money } = structureOf(folder);
		const named = namesOfSchedules(schedules, money);
		for (const model of models) checkForm(folder, formFile(model.code), model, models, named, codes);
		const modelled = models.map((m) => modelNames(m, money));
		for (const own of schedules)
			checkScheduleForm(folder, scheduleFile(own.code), own, schedules, modelled, codes);
		const told = scenarioFaults(
			rows.map((s) => ({ ...s, actualsThrough: s.actuals_through, laterYears: s.later_years })),
			lastOf(folder.of(ENTRIES)),
			folder.calendar
		);
		for (const { scenario, column, message } of told)
			folder.faults.push({ file: FORM.path, row: rowOfScenario(folder, scenario), column, message });
		const sets = folder.of(RATES).map((s) => s.code);
		for (const { rates, rowNumber } of rows)
			folder.expect(
				rates === null || sets.includes(rates),
				FORM.path,
				rowNumber,
				'rates',
				`“${rates}” is not in rate-sets.csv`
			);
		return rows.map(({ rowNumber, more: _none, without, actuals_through, later_years, visibility, ...s }) => {
			folder.expect(
				s.kind !== 'actuals' && s.code !== 'actuals',
				FORM.path,
				rowNumber,
				'code',
				'actuals come from the ledger and are not listed'
			);
			const scenario = {
				...s,
				laterYears: later_years,
				actualsThrough: actuals_through,
				visibility: visibility ?? 'all'
			};
			return { scenario, ...readParts(folder, scenario, { row: rowNumber, without, scenarios: codes }) };
		});
	},
	write(records, folder) {
		const models = folder.of(MODELS).map((m) => m.definition.code);
		folder.table(
			FORM,
			records.map(({ scenario: s, definitions }) => {
				const own = new Set(definitions.map((d) => d.code));
				return {
					...s,
					rates: s.rates ?? null,
					first: folder.period(s.first),
					last: folder.period(s.last),
					actuals_through: folder.period(s.actualsThrough),
					people: s.people.join(';'),
					without: models.filter((m) => !own.has(m)).join(';'),
					later_years: laterYearsText(s.laterYears)
				};
			})
		);
		for (const record of records) {
			const at = folderOf(record);
			for (const part of PARTS as readonly AnyPart[]) part.write(record[part.name], at, folder);
		}
	},
	async store(trx, records) {
		for (const [position, record] of records.entries()) {
			await trx('scenario').insert({ ...scenarioToRow(record.scenario), position });
			for (const part of PARTS as readonly AnyPart[])
				await part.store(trx, record.scenario.code, record[part.name]);
		}
	},
	async load(db) {
		const records: ScenarioRecord[] = [];
		const rows = await stored.rows(ScenarioRow, db('scenario').whereNull('deleted').orderBy('position'));
		for (const row of rows) {
			const parts: Record<string, unknown> = {};
			for (const part of PARTS) parts[part.name] = await part.load(db, row.code);
			records.push({ scenario: scenarioFromRow(row), ...(parts as unknown as ScenarioParts) });
		}
		return records;
	}
};

const rowsOf = oncePer((folder) => folder.table(FORM));
/** Row of a scenario in its table. */
export const rowOfScenario = (folder: Reading, code: string): number | undefined =>
	rowsOf(folder).find((s) => s.code === code)?.rowNumber;

/** A scenario that has been read, as its parts see it. */
export const folderOf = (record: ScenarioRecord): ScenarioFolder => ({
	folder: `scenarios/${record.scenario.code}`,
	scenario: record.scenario,
	of: <T>({ name }: Kept<T>) => record[name as keyof ScenarioParts] as T
});

type AnyPart = ScenarioPart<keyof ScenarioParts, unknown>;

function readParts(
	folder: Reading,
	scenario: ListedScenario,
	place: Pick<ScenarioPlace, 'row' | 'without' | 'scenarios'>
): ScenarioParts {
	const held: Record<string, unknown> = {};
	const at: ScenarioPlace = {
		folder: `scenarios/${scenario.code}`,
		scenario,
		...place,
		of<T>({ name }: Kept<T>): T {
			if (!(name in held)) throw new Error(`“${name}” has not been read yet.`);
			return held[name] as T;
		}
	};
	for (const part of PARTS) held[part.name] = part.read(folder, at);
	return held as unknown as ScenarioParts;
}

export const ScenarioRow = z.object({
	code: stored.text,
	name: stored.text,
	kind: ScenarioKind,
	first: stored.whole,
	last: stored.whole,
	later_years: stored.text,
	actuals_through: stored.wholeOrNone,
	follows: stored.textOrNone,
	origin: stored.textOrNone,
	locked: stored.flag,
	description: stored.text,
	folder: stored.text,
	visibility: z.enum(VISIBILITIES),
	people: stored.text,
	owner: stored.text,
	target: stored.textOrNone,
	rates: stored.textOrNone,
	/** Goes up with each change. */
	revision: stored.whole
});
export const scenarioFromRow = (r: z.output<typeof ScenarioRow>): ListedScenario => ({
	code: r.code,
	name: r.name,
	kind: r.kind,
	first: r.first,
	last: r.last,
	laterYears: laterYearsFrom(r.later_years),
	actualsThrough: r.actuals_through,
	follows: r.follows,
	origin: r.origin,
	locked: r.locked,
	description: r.description,
	folder: r.folder,
	visibility: r.visibility,
	rates: r.rates,
	people: r.people.split(';').filter(Boolean),
	owner: r.owner,
	target: r.target
});
export const scenarioToRow = (s: ListedScenario) => ({
	code: s.code,
	name: s.name,
	kind: s.kind,
	first: s.first,
	last: s.last,
	later_years: laterYearsText(s.laterYears),
	actuals_through: s.actualsThrough,
	follows: s.follows,
	origin: s.origin,
	locked: s.locked,
	description: s.description,
	folder: s.folder,
	visibility: s.visibility,
	people: s.people.join(';'),
	owner: s.owner,
	target: s.target,
	rates: s.rates ?? null
});

/** Copies a scenario's parts to another, inside the database; the two are independent from then on. */
export async function copyParts(
	trx: Knex.Transaction,
	from: string,
	to: string,
	travels: readonly AnyPart['travels'][]
): Promise<void> {
	for (const part of PARTS) if (travels.includes(part.travels)) await part.copy(trx, from, to);
}
