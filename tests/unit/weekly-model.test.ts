/** A company of months with a model that is kept by weeks: figures, typing, History, adjustments, folder, trace. */
import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Calendar } from '../../src/lib/core/calendar/calendar';
import { ACCOUNTS_BLOCK } from '../../src/lib/core/engine/spec';
import { trace, type FigureRef } from '../../src/lib/core/explain/trace';
import { addNote, readNotes } from '../../src/lib/server/changes/notes';
import { copyAsItStood } from '../../src/lib/server/changes/as-of';
import { savesOf, undoSave } from '../../src/lib/server/changes/history';
import { readCompany, readStored, writeCompany } from '../../src/lib/server/company/subjects';
import { formById } from '../../src/lib/server/company/subjects/forms-in-use';
import { MODEL_FORMS } from '../../src/lib/server/company/subjects/models';
import { changeModel, createModel } from '../../src/lib/server/models/design';
import { readModel, readWrittenModel } from '../../src/lib/server/models/models';
import { saveWritten } from '../../src/lib/server/changes/save-cells';
import { newBatch } from '../../src/lib/server/company/journal';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import type { User } from '../../src/lib/server/platform/auth/sessions';
import { calendarsIn } from '../../src/lib/server/scenarios/block-periods';
import { openFigure, openWritten } from '../../src/lib/server/reports/traces';
import { readFigure, readRef } from '../../src/lib/core/explain/written';
import { changeScenario } from '../../src/lib/server/scenarios/list';
import { planOf } from '../../src/lib/server/scenarios/plans';
import { loadCompany } from '../../src/lib/server/transfer/load';
import { contentOf, rawRows, refusedIn, userOf, PRAXIS } from '../support/company';
import {
	daysOf,
	headsOf,
	inMonth,
	MONDAYS,
	PRICE,
	samplesOf,
	weekKey,
	weeklyCompany
} from '../support/weekly-model';
import { QUARTERS_OF_WEEKS, rawPeriods, weeksCompany } from '../support/weeks-company';

const F2 = 'f2';
const MONTHS = Array.from(
	{ length: 12 },
	(_, i) => `${i < 10 ? 2026 : 2027}-${String(((i + 2) % 12) + 1).padStart(2, '0')}`
);
let db: Knex;
let ana: User;
beforeEach(async () => {
	db = await openDatabase(':memory:');
	await loadCompany(db, readCompany(weeklyCompany()));
	ana = await userOf(db, 'ana');
});
afterEach(async () => {
	vi.unstubAllEnvs();
	await db.destroy();
});

/** A refusal, after which all is as it was. */
const refused = (work: Promise<unknown>) => refusedIn(db, work);

/** Figures of a line's one row, or of an account in a department, by the periods' own writing. */
async function figures(block: string, line: string, keys: readonly string[], scenario = F2) {
	const plan = await planOf(db, scenario);
	const own = plan.blocks.get(block)!;
	const row = block === ACCOUNTS_BLOCK ? own.rowAt('labor') : 0;
	const at = (calendar: Calendar, key: string) => calendar.parse(key) ?? -1;
	return keys.map((k) => plan.calculation.cell(block, line, row, at(own.calendar, k)));
}
const near = (found: unknown[], expected: number[]) =>
	expected.forEach((e, i) => expect(found[i], String(i)).toBeCloseTo(e, 8));

describe('figures', () => {
	it('are posted to months by days, from the first open one on', async () => {
		near(
			await figures(ACCOUNTS_BLOCK, 'lab', MONTHS),
			MONTHS.map((m) => inMonth(m, (monday) => samplesOf(monday) * PRICE))
		);
		// February is closed: what the ledger says stays, though the straddling week has six days in it.
		const [row] = rawRows(`${PRAXIS}/ledger/2026-02.csv`).filter((r) => r.ledger_account === 'E-110');
		near(await figures(ACCOUNTS_BLOCK, 'lab', ['2026-02']), [-Number(row.amount)]);
	});

	it('are read by a model of months: amounts by days, a mean over days, a price weighed by amounts', async () => {
		near(
			await figures('overview', 'taken', MONTHS),
			MONTHS.map((m) => inMonth(m, samplesOf))
		);
		near(
			await figures('overview', 'heads', MONTHS),
			MONTHS.map((m) => daysOf(m).reduce((sum, d) => sum + headsOf(d.monday), 0) / daysOf(m).length)
		);
		near(await figures('overview', 'price', ['2026-03', '2026-07']), [PRICE, PRICE]);
	});

	it('of months are read by weeks: the rent by days, also where a week straddles', async () => {
		const rent = new Map(MONTHS.map((m, i) => [m, i]));
		const typed = await figures(ACCOUNTS_BLOCK, 'rent', MONTHS);
		const plan = await planOf(db, F2);
		const office = plan.blocks.get(ACCOUNTS_BLOCK)!.rowAt('office');
		const months = plan.structure.calendar;
		const ofMonth = (m: string) =>
			plan.calculation.cell(ACCOUNTS_BLOCK, 'rent', office, months.parse(m)!) as number;
		expect(typed.every((v) => v === null || v === 0)).toBe(true);
		const week = ['2026-04-27', '2026-06-15'];
		near(
			await figures('samples', 'rent', week.map(weekKey)),
			week.map((monday) => {
				let sum = 0;
				for (const [m] of rent)
					for (const d of daysOf(m)) if (d.monday === monday) sum += ofMonth(m) / daysOf(m).length;
				return sum;
			})
		);
	});

	it('of closed weeks come from the ledger by the dates of entries; a week that is open in part is plan', async () => {
		const entries = rawRows(`${PRAXIS}/ledger/2026-01.csv`).filter((r) => r.ledger_account === 'E-110');
		// 15 January 2026 lies in the week of Monday 12 January.
		const amount = entries.reduce((sum, r) => sum - Number(r.amount), 0);
		expect(entries.every((r) => r.date === '2026-01-15')).toBe(true);
		near(await figures('samples', 'income', [weekKey('2026-01-12')]), [amount]);
		expect(await figures('samples', 'income', [weekKey('2026-01-19')])).toEqual([null]);
		near(await figures('samples', 'income', [weekKey(MONDAYS[0])]), [samplesOf(MONDAYS[0]) * PRICE]);
	});
});

describe('typing', () => {
	const edit = (period: string, before: number | null, value: number | null) => ({
		line: 'taken',
		row: '',
		period,
		before,
		value
	});
	const saveSamples = (cell: ReturnType<typeof edit>) =>
		saveWritten({ db, user: ana }, F2, [{ block: 'samples', ...cell }], newBatch());
	const monday = '2026-03-30';
	const key = weekKey(monday);

	it('names weeks in their own writing; months, closed weeks and those beyond the end are refused', async () => {
		const save = (period: string) => saveSamples(edit(period, null, 1));
		// To whom models are not open, not even their periods are told.
		const urs = await userOf(db, 'urs');
		for (const block of ['samples', 'nothing'])
			expect(
				await refused(
					saveWritten({ db, user: urs }, F2, [{ block, ...edit('2026-03', null, 1) }], newBatch())
				)
			).toMatchObject({ status: 403, message: expect.stringMatching(/may not change driver models/) });
		const month = await refused(save('2026-03'));
		expect([month.status, month.faults]).toEqual([
			400,
			[{ column: 'edits.0.period', message: '“2026-03” is no week such as 2027-W14' }]
		]);
		expect((await refused(save('2026-W08'))).message).toMatch(/^Week 8 of FY26 is closed/);
		expect((await refused(save('2027-W09'))).message).toMatch(/beyond the scenario’s last week/);
	});

	it('moves both months of a week that straddles, is told in History as that week, and can be taken back', async () => {
		const was = samplesOf(monday);
		await saveSamples(edit(key, was, was + 70));
		const now = (m: string) => inMonth(m, (d) => (samplesOf(d) + (d === monday ? 70 : 0)) * PRICE);
		// Monday 30 March: two days in March, five in April.
		near(await figures(ACCOUNTS_BLOCK, 'lab', ['2026-03', '2026-04']), ['2026-03', '2026-04'].map(now));
		const [save] = await savesOf({ db, user: ana }, F2);
		expect(save.changes[0].words).toEqual({
			place: 'Samples: Taken, W14 FY26',
			before: String(was),
			after: String(was + 70)
		});
		await undoSave({ db, user: ana }, F2, save.batch);
		near(await figures('samples', 'taken', [key]), [was]);
	});

	it('is taken out of a copy of the past, and comes along in a copy of today', async () => {
		const was = samplesOf(monday);
		await saveSamples(edit(key, was, 1));
		const [first] = await savesOf({ db, user: ana }, F2);
		await saveSamples(edit(key, 1, 2));
		const past = await copyAsItStood({ db, user: ana }, F2, first.batch);
		expect(await figures('samples', 'taken', [key], past)).toEqual([1]);
		expect(await figures('samples', 'taken', [key])).toEqual([2]);
	});

	it('carries notes, which hang on the week', async () => {
		const cell = { block: 'samples', line: 'taken', row: '', period: key };
		await addNote({ db, user: ana }, F2, cell, 'A holiday', null);
		expect((await readNotes({ db, user: ana }, F2, cell)).notes.map((n) => n.text)).toEqual(['A holiday']);
		const none = await refused(addNote({ db, user: ana }, F2, { ...cell, period: '2026-03' }, 'x', null));
		expect([none.status, none.faults[0].column]).toEqual([400, 'cell.period']);
		expect(
			(await refused(addNote({ db, user: ana }, F2, { ...cell, period: '2029-W01' }, 'x', null))).message
		).toMatch(/is no week of this scenario/);
	});
});

describe('a window', () => {
	it('of months is shown as the weeks that touch it, with their quarters', async () => {
		const months = (await planOf(db, F2)).structure.calendar;
		const view = await readModel(
			{ db, user: ana },
			{
				scenario: F2,
				model: 'samples',
				from: months.parse('2026-04')!,
				to: months.parse('2026-06')!
			}
		);
		const { calendar } = (await planOf(db, F2)).blocks.get('samples')!;
		const weeks = view.spans.filter((s) => s.from === s.to).map((s) => calendar.key(s.from));
		const singles = [...new Set(weeks)];
		// 30 March to 5 July: 14 weeks, of the second quarter all 13.
		expect([singles[0], singles.at(-1), singles.length]).toEqual(['2026-W14', '2026-W27', 14]);
		const taken = view.rows.find((r) => r.heads === 'taken')!;
		const quarter = view.spans.findIndex((s) => s.to - s.from === 12);
		expect(taken.cells[quarter]).toBe(
			MONDAYS.slice(5, 18).reduce((sum, monday) => sum + samplesOf(monday), 0)
		);
	});

	it('can be asked for in weeks, and is refused in what is neither', async () => {
		const ask = (from: string, to: string, periods: 'company' | 'model') =>
			readWrittenModel({ db, user: ana }, { scenario: F2, model: 'samples', from, to, periods });
		const weeks = await ask('2026-W14', '2026-W15', 'model');
		expect(weeks.rows.find((r) => r.heads === 'taken')!.cells.slice(0, 2)).toEqual(
			['2026-03-30', '2026-04-06'].map(samplesOf)
		);
		expect((await refused(ask('2026-04', '2026-05', 'model'))).faults[0].message).toMatch(/no week such as/);
		expect((await refused(ask('2026-W14', '2026-W15', 'company'))).faults[0].message).toMatch(
			/no month such as/
		);
		expect((await refused(ask('2026-W15', '2026-W14', 'model'))).faults[0].column).toBe('to');
	});

	it('that is made longer carries weeks on as weeks', async () => {
		const months = (await planOf(db, F2)).structure.calendar;
		await changeScenario({ db, user: ana }, F2, { last: months.parse('2027-04')! });
		// 2026 has 53 weeks: the ninth week of 2027 begins on Monday 1 March.
		near(await figures('samples', 'taken', ['2027-W09', '2027-W17']), [
			samplesOf('2026-02-23'),
			samplesOf('2026-04-20')
		]);
		near(await figures('samples', 'price', ['2027-W17']), [PRICE]);
	});
});

describe('adjustments', () => {
	it('for a month change the weeks that have most of their days in it', async () => {
		const files = weeklyCompany({
			'scenarios/f2/adjustments.json': JSON.stringify([
				{
					code: 'more',
					name: 'More',
					on: true,
					adopted: null,
					steps: [
						{
							operation: 'multiply',
							value: 2,
							lines: [{ block: 'samples', line: 'taken' }],
							where: {},
							from: '2026-04',
							to: '2026-04'
						}
					]
				}
			])
		});
		const other = await openDatabase(':memory:');
		await loadCompany(other, readCompany(files));
		const plan = await planOf(other, F2);
		const { calendar } = plan.blocks.get('samples')!;
		const now = MONDAYS.map((m) => plan.calculation.cell('samples', 'taken', 0, calendar.parse(weekKey(m))!));
		// The Thursday says to which month a week counts.
		const thursday = (monday: string) => new Date(Date.parse(monday) + 3 * 86_400_000).toISOString();
		expect(now).toEqual(MONDAYS.map((m) => samplesOf(m) * (thursday(m).startsWith('2026-04') ? 2 : 1)));
		await other.destroy();
	});
});

describe('the folder', () => {
	it('comes out as it went in, values of the model in a file of its own', async () => {
		const files = writeCompany(await readStored(db));
		const text = files.get('scenarios/f2/values/samples.csv')!;
		expect(text.split('\n')[0]).toMatch(/^line,row,2026-W09,2026-W10,/);
		expect(files.get('scenarios/f2/values.csv')).not.toMatch(/samples/);
		const again = await openDatabase(':memory:');
		await loadCompany(again, readCompany(files));
		expect(await contentOf(again)).toBe(await contentOf(db));
		await again.destroy();
	});

	it.each([
		[
			'values/samples.csv',
			'line,row,2026-03\ntaken,,1\n',
			/values\/samples\.csv:1:2026-03: a week.*expected as heading/
		],
		['values/samples.csv', 'line,row,2027-W09\ntaken,,1\n', /the scenario ends with 2027-W08/],
		['values/samples.csv', 'line,row,2026-W12\nincome,,1\n', /:2:line: “income” is calculated/],
		[
			'values.csv',
			'block,line,row,2026-04\nsamples,taken,,1\n',
			/:2:block: .*expected in .*values\/samples\.csv/
		]
	])('%s says where and what', (file, text, expected) => {
		let said = '';
		try {
			readCompany(weeklyCompany({ [`scenarios/f2/${file}`]: text }));
		} catch (e) {
			said = (e as { faults: { file: string; row: number; column: string; message: string }[] }).faults
				.map((f) => `${f.file}:${f.row}:${f.column}: ${f.message}`)
				.join('\n');
		}
		expect(said).toMatch(expected);
	});
});

describe('a figure', () => {
	it('of an account leads to the weeks behind it, each with its days', async () => {
		const plan = await planOf(db, F2);
		const months = plan.structure.calendar;
		const march = months.parse('2026-03')!;
		const account: FigureRef = {
			kind: 'account',
			account: 'lab',
			department: 'labor',
			from: march,
			to: march
		};
		const posted = trace(plan, account).explanations.find((e) => e.kind === 'posted')!;
		const [part] = posted.kind === 'posted' ? posted.parts : [];
		expect(part.value).toBeCloseTo(
			inMonth('2026-03', (m) => samplesOf(m) * PRICE),
			8
		);
		expect(part.ref).toMatchObject({ model: 'samples', line: 'income', in: ACCOUNTS_BLOCK, period: march });
		const [days] = trace(plan, part.ref!).explanations;
		if (days.kind !== 'days') throw new Error(days.kind);
		expect(days.parts.map((p) => [p.name, p.share])).toEqual([
			['W9 FY26', { days: 1, of: 7 }],
			['W10 FY26', { days: 7, of: 7 }],
			['W11 FY26', { days: 7, of: 7 }],
			['W12 FY26', { days: 7, of: 7 }],
			['W13 FY26', { days: 7, of: 7 }],
			['W14 FY26', { days: 2, of: 7 }]
		]);
		const sum = days.parts.reduce((s, p) => s + ((p.value as number) * p.share!.days) / p.share!.of, 0);
		expect(sum).toBeCloseTo(part.value as number, 8);
		// A week is the model's own figure.
		const [week] = trace(plan, days.parts[1].ref!).explanations;
		expect(week).toMatchObject({ kind: 'formula', formula: 'taken * price' });
	});

	it('leaves in the writing of each figure’s own periods, and is read as it was', async () => {
		const calendarIn = await calendarsIn(db, F2);
		const account = { kind: 'account', account: 'lab', department: 'labor' } as const;
		const march = { ...account, from: '2026-03', to: '2026-03' };
		const line = { kind: 'line', model: 'samples', line: 'income', row: '', period: '2026-W10' } as const;
		const carried = { ...line, line: 'taken', period: '2026-03', in: 'overview' };
		for (const asked of [march, line, carried]) {
			const ref = readRef(asked, calendarIn);
			const view = await openFigure({ db, user: ana }, F2, ref);
			const written = await openWritten({ db, user: ana }, F2, asked);
			expect(written.trace.ref).toEqual(asked);
			expect(readFigure(written, calendarIn)).toEqual(view);
		}
		// A month of a plan is made of what its model has by weeks.
		const told = async (asked: typeof march | typeof carried) =>
			JSON.stringify((await openWritten({ db, user: ana }, F2, asked)).trace.explanations);
		expect(await told(march)).toContain('"period":"2026-03"');
		expect(await told(carried)).toContain('"period":"2026-W09"');
	});

	it('is opened in the periods in which it is seen, by those who may see models', async () => {
		const ref = { kind: 'line', model: 'samples', line: 'taken', row: '', period: '2026-03', in: 'overview' };
		const seen = await openWritten({ db, user: ana }, F2, ref);
		expect([seen.place, seen.trace.cell]).toEqual(['March 2026 · Samples', null]);
		const week = await openWritten({ db, user: ana }, F2, { ...ref, period: '2026-W10', in: undefined });
		expect(week.place).toBe('Week 10 of FY26 · Samples');
		const urs = await userOf(db, 'urs');
		const account = {
			kind: 'account',
			account: 'lab',
			department: 'labor',
			from: '2026-W10',
			to: '2026-W10'
		};
		expect((await refused(openWritten({ db, user: urs }, F2, { ...account, in: 'samples' }))).status).toBe(
			403
		);
		expect(
			(await openWritten({ db, user: ana }, F2, { ...account, in: 'nothing' }).catch((e) => e)).status
		).toBe(400);
		const month = { ...account, from: '2026-03', to: '2026-03' };
		const told = (await openWritten({ db, user: urs }, F2, month)).trace.explanations;
		expect(told.flatMap((e) => ('parts' in e ? e.parts.map((p) => p.ref) : []))).toEqual([null]);
	});
});

describe('the form of a model', () => {
	const definitionOf = async (model: string) => {
		const row = await db('scenario_model').where({ scenario: F2, model }).first('definition');
		return { id: row.definition as string, definition: (await formById(db, MODEL_FORMS, row.definition))! };
	};

	it('says in which periods it is kept; what was typed in others would be taken out, and is asked about', async () => {
		const { id, definition } = await definitionOf('samples');
		const inMonths = { ...definition, calendar: undefined };
		const change = { scenarios: [F2], model: 'samples', version: id, definition: inMonths };
		const asked = await refused(changeModel({ db, user: ana }, { ...change, drop: false }));
		expect(asked.data).toEqual(
			['heads', 'price', 'taken'].map((l) => expect.objectContaining({ line: l, cells: MONDAYS.length }))
		);
		await changeModel({ db, user: ana }, { ...change, drop: true });
		expect(await db('series').where({ scenario: F2, block: 'samples' })).toEqual([]);
		// Back again: with the form, what was typed comes back where it was.
		const [save] = await savesOf({ db, user: ana }, F2);
		await undoSave({ db, user: ana }, F2, save.batch);
		near(await figures('samples', 'taken', MONDAYS.map(weekKey)), MONDAYS.map(samplesOf));
	});

	it('is begun with them, and a copy has those of what it is copied from', async () => {
		const { definition } = await definitionOf('samples');
		const common = { scenarios: [F2], description: '', rows: { kind: 'none' as const } };
		const blank = { kind: 'blank' as const, dimensions: [], calendar: definition.calendar };
		const own = await createModel({ db, user: ana }, { ...common, name: 'Own', from: blank });
		const copy = await createModel(
			{ db, user: ana },
			{
				...common,
				name: 'Copied',
				from: { kind: 'copy', model: 'samples', withValues: true }
			}
		);
		const { blocks } = await planOf(db, F2);
		for (const code of [own, copy]) expect(blocks.get(code)!.calendar).toBe(blocks.get('samples')!.calendar);
		near(await figures(copy, 'taken', MONDAYS.map(weekKey)), MONDAYS.map(samplesOf));
	});
});

describe('a model by months in a company of weeks', () => {
	it('is posted to its periods by days, across the leap week too', async () => {
		vi.stubEnv('YARDSTAVE_TODAY', '2028-09-20');
		const files = weeksCompany(QUARTERS_OF_WEEKS, '2028-P11');
		const months = Array.from({ length: 26 }, (_, i) => {
			const [year, month] = [2027 + Math.floor((7 + i) / 12), ((7 + i) % 12) + 1];
			return `${year}-${String(month).padStart(2, '0')}`;
		});
		const feeOf = (month: string) => 3_000 + 31 * months.indexOf(month);
		const cleaning = {
			code: 'cleaning',
			name: 'Cleaning',
			calendar: { kind: 'months', fiscalStart: 9, dayCount: 'actual' },
			lines: [{ code: 'fee', label: 'Fee', format: 'money', extend: 'last' }],
			postings: [{ line: 'fee', account: { code: 'energy' }, department: { code: 'ovens' }, where: {} }]
		};
		files.set('models.csv', 'code\norders\ncleaning\n');
		files.set('models/cleaning.json', JSON.stringify(cleaning));
		const last = months.filter((m) => m <= '2029-07');
		files.set(
			'scenarios/forecast/values/cleaning.csv',
			`line,row,${last.join(',')}\nfee,,${last.map(feeOf).join(',')}\n`
		);
		const other = await openDatabase(':memory:');
		await loadCompany(other, readCompany(files));
		const plan = await planOf(other, 'forecast');
		const ovens = plan.accounts.rowAt('ovens');
		const { calendar } = plan.structure;
		for (const p of rawPeriods(QUARTERS_OF_WEEKS)) {
			if (p.first < '2028-07-23' || p.last > '2029-07-31') continue;
			let sum = 0;
			for (const m of months)
				for (const { day } of daysOf(m))
					if (day >= p.first && day <= p.last) sum += feeOf(m) / daysOf(m).length;
			const cell = plan.calculation.cell(ACCOUNTS_BLOCK, 'energy', ovens, calendar.parse(p.key)!);
			expect(cell, p.key).toBeCloseTo(sum, 8);
		}
		await other.destroy();
	});
});
