/** Opening a figure, down to who typed it or the ledger entries behind it. */
import type { Knex } from 'knex';
import { z } from 'zod';
import type { Block } from '../../core/blocks/block';
import { valueFrom } from '../../core/blocks/schedule/adjust-column';
import { isPersonal, ownerOf } from '../../core/blocks/schedule/personal';
import { rowValue } from '../../core/blocks/schedule/row-changes';
import { ColumnValue, type ScheduleColumn } from '../../core/blocks/schedule/schema';
import { rowWords } from '../../core/blocks/schedule/schedule';
import { isUnusual } from '../../core/analysis/unusual';
import type { FigureView, LedgerLine } from '../../core/explain/figure';
import { writeFigure, type WrittenFigure } from '../../core/explain/written';
import { ACCOUNTS_BLOCK } from '../../core/engine/spec';
import { naturalFromDebit } from '../../core/company/sign';
import { rowName } from '../../core/blocks/driver-model/rows';
import { severalCurrencies, type Structure } from '../../core/company/structure';
import { isMoney } from '../../core/currency/rates';
import { currencyIn, moneyView } from '../../core/currency/view';
import { trace, type FigureRef, type LineRef, type Part, type Trace } from '../../core/explain/trace';
import type { Cell } from '../../core/engine/values';
import type { Plan } from '../../core/scenario/plan';
import { may, mustMay, mustRead } from '../platform/auth/policy';
import type { User } from '../platform/auth/sessions';
import { check } from '../platform/check';
import { FigureReference, type FigureText } from '../platform/schemas';
import { heldIn, historyOf } from '../company/journal';
import { notFound } from '../platform/refusal';
import { mustReadColumn, mustReadRow, seesAllRows } from '../scenarios/schedule-readers';
import { calendarsIn } from '../scenarios/block-periods';
import { planOf } from '../scenarios/plans';
import { keptFrom, mustBeOpen } from '../scenarios/individual-pay';
import { mustSee, visibleScenarios } from '../scenarios/scenarios';
import { companyState } from '../company/structure';
import { usualSizes } from '../ledger/usual';
import { readEntries } from '../company/subjects/entries';
import type { Context } from '../platform/context';

const MOST_LINES = 60;

/** A figure as a request names it and is answered: periods are those of the block in which it stands, or is seen. */
export async function openWritten(
	context: Context,
	scenario: string,
	written: z.infer<typeof FigureText>
): Promise<WrittenFigure> {
	await mustSee(context, scenario);
	const calendarOf = await calendarsIn(context.db, scenario);
	const calendar = calendarOf(written.in ?? written.model ?? ACCOUNTS_BLOCK);
	const { ref } = check({ ref: written }, z.object({ ref: FigureReference(calendar) }));
	return writeFigure(await openFigure(context, scenario, ref), calendarOf);
}

/**
 * What comes of schedules as one amount a schedule: whoever may not see these rows learns neither their names nor their amounts.
 * @param closed whether what a line of a schedule gives is kept from whoever asks
 */
function withoutRows(plan: Plan, traced: Trace, closed: (block: string, line: string) => boolean): Trace {
	const together = (parts: readonly Part[]): Part[] => {
		const out: Part[] = [];
		const sums = new Map<string, Part>();
		for (const part of parts) {
			const block = part.ref?.kind === 'line' ? plan.blocks.get(part.ref.model) : undefined;
			if (block?.kind !== 'schedule' || part.ref?.kind !== 'line' || !closed(block.code, part.ref.line)) {
				out.push(part);
				continue;
			}
			const have = sums.get(block.code);
			const value = part.sign === 1 ? part.value : negative(part.value);
			if (have) have.value = plus(have.value, value);
			else {
				const sum: Part = { ref: null, name: block.name, value, format: part.format, sign: 1 };
				sums.set(block.code, sum);
				out.push(sum);
			}
		}
		return out;
	};
	return {
		...traced,
		explanations: traced.explanations.map((e) =>
			e.kind === 'posted' ? { ...e, parts: together(e.parts) } : e
		)
	};
}
/** Lines of a driver model stay closed to those who may not open the model. */
function closedModels(user: User, plan: Plan, traced: Trace, { departments }: Structure): Trace {
	if (may(user, 'see driver models', departments)) return traced;
	const close = (of: { ref: FigureRef | null }) => {
		if (of.ref?.kind === 'line' && plan.blocks.get(of.ref.model)?.kind !== 'schedule') of.ref = null;
	};
	for (const e of traced.explanations)
		if (e.kind === 'posted') e.parts.forEach(close);
		else if (e.kind === 'basis' || e.kind === 'formula') e.operands.forEach(close);
	return traced;
}
const negative = (a: Cell): Cell => (typeof a === 'number' ? -a : a);
/** An error stays one. */
const plus = (a: Cell, b: Cell): Cell =>
	typeof a === 'string'
		? a
		: typeof b === 'string'
			? b
			: a === null && b === null
				? null
				: (a ?? 0) + (b ?? 0);

/** What stands in a column of a row: who typed it, or what it is worked out from. */
async function columnOpened(
	{ db, user }: Context,
	plan: Plan,
	block: Block,
	ref: LineRef
): Promise<FigureView> {
	const { structure } = plan;
	const schedule = plan.schedules.get(block.code)!;
	const { definition, rows } = schedule;
	const column = definition.columns.find((c) => c.code === ref.line)!;
	mustReadColumn(user, structure, definition, column.code);
	const row = rows[block.rowAt(ref.row)];
	const traced = closedModels(user, plan, trace(plan, ref), structure);
	const value =
		column.formula === undefined
			? rowValue(row, column.code)
			: typeof traced.value === 'number' && column.kind === 'date'
				? valueFrom(column, traced.value)
				: traced.value;
	const about = { what: 'column' as const, schedule: block.code, column: column.code, row: ref.row };
	return {
		trace: traced,
		title: column.label,
		place: [block.rowName(ref.row), block.name].join(' · '),
		column: { text: columnWords(plan, column, value) },
		scenarioName: plan.scenario.name,
		ledger: null,
		history: (await historyOf(db, plan.scenario.code, [about])).map((entry) => ({
			...entry,
			before: columnWords(plan, column, heldIn(entry.before, ColumnValue)),
			after: columnWords(plan, column, heldIn(entry.after, ColumnValue))
		})),
		followedName: null,
		formulaLine: column.formula ?? null
	};
}

/** As whoever typed it would call it: what is chosen by its name, dates by ISO 8601. */
function columnWords(
	{ structure, schedules }: Plan,
	{ kind, dimension, schedule }: ScheduleColumn,
	value: Cell | ColumnValue
): string {
	if (value === null || value === '') return '';
	if (typeof value === 'boolean') return value ? 'yes' : 'no';
	const code = String(value);
	switch (kind) {
		case 'department':
			return structure.departments.get(code)?.name ?? code;
		case 'account':
			return structure.accounts.get(code)?.name ?? code;
		case 'member':
			return structure.dimensions.get(dimension ?? '')?.members.get(code)?.name ?? code;
		case 'row': {
			const other = schedules.get(schedule ?? '');
			const row = other?.rows.find((r) => r.id === code);
			return row ? rowWords(other!.definition, row) : code;
		}
		default:
			return code;
	}
}

export async function openFigure(context: Context, scenario: string, ref: FigureRef): Promise<FigureView> {
	const { db, user } = context;
	const { structure } = await companyState(db);
	await mustSee(context, scenario);
	const plan = await planOf(db, scenario);
	const own = ref.kind === 'line' ? ref.model : ACCOUNTS_BLOCK;
	if (ref.in !== undefined) {
		// Whose periods a model has is told to those who may open it.
		mustMay(user, 'see driver models', structure.departments);
		if (!plan.blocks.has(ref.in)) throw notFound(`The driver model “${ref.in}”`);
	}
	const calendar = plan.blocks.get(ref.in ?? own)?.calendar ?? structure.calendar;
	const personal = keptFrom(
		user,
		[...plan.schedules.values()].map((s) => s.definition),
		structure
	);
	const scheduled = ref.kind === 'line' ? plan.blocks.get(ref.model) : undefined;
	if (ref.kind === 'line' && scheduled?.kind === 'schedule') {
		mustReadRow(user, structure, plan.schedules.get(ownerOf(scheduled.code))!, scheduled, ref.row);
		mustBeOpen(personal, [{ block: ref.model, line: ref.line }]);
		const line = scheduled.line(ref.line);
		if (scheduled.rowAt(ref.row) < 0 || !line) throw notFound(`The line “${ref.line}” of “${ref.model}”`);
		const { row, line: code, model: block } = ref;
		if (line.timeless) return columnOpened(context, plan, scheduled, ref);
		const period = calendar.key(ref.period);
		return {
			trace: closedModels(user, plan, trace(plan, ref), structure),
			title: line.label,
			place: [calendar.longLabel(ref.period), scheduled.rowName(row), scheduled.name].join(' · '),
			scenarioName: plan.scenario.name,
			ledger: null,
			history: await historyOf(db, scenario, [{ what: 'cell', block, line: code, row, period }]),
			followedName: null,
			formulaLine: null
		};
	}
	if (ref.kind === 'line') {
		mustMay(user, 'see driver models', structure.departments);
		const model = plan.models.get(ref.model);
		const line = model?.definition.lines.find((l) => l.code === ref.line);
		if (!model || !line) throw notFound(`The line “${ref.line}” of “${ref.model}”`);
		return {
			trace: trace(plan, ref),
			title: line.label,
			place: [
				calendar.longLabel(ref.period),
				rowName(plan.structure, model.definition, ref.row),
				model.definition.name
			]
				.filter(Boolean)
				.join(' · '),
			scenarioName: plan.scenario.name,
			ledger: null,
			history: await historyOf(db, scenario, [
				...(ref.in === undefined
					? [
							{
								what: 'cell' as const,
								block: ref.model,
								line: ref.line,
								row: ref.row,
								period: calendar.key(ref.period)
							}
						]
					: []),
				{ what: 'formula', model: ref.model, line: ref.line }
			]),
			followedName: null,
			formulaLine: line.formula ?? null
		};
	}
	mustRead(user, ref.department, structure.departments);
	const account = structure.accounts.get(ref.account);
	if (!account) throw notFound(`The account “${ref.account}”`);
	const traced = trace(plan, ref);
	// What is posted to a department comes of rows that count there; those of schedules without departments are not of it.
	const all = seesAllRows(user, structure);
	const kept = (block: string, line: string) =>
		isPersonal(personal, block, line) || (!all && !plan.blocks.get(block)?.dimensions.includes('department'));
	const result = all && !personal.size ? traced : withoutRows(plan, traced, kept);
	const followed = await visibleNames(context);
	for (const e of result.explanations)
		if (e.kind === 'followed' && e.scenario !== null && !followed.has(e.scenario)) e.scenario = null;
	closedModels(user, plan, result, structure);
	const span =
		ref.from === ref.to
			? calendar.longLabel(ref.from)
			: `${calendar.label(ref.from)} – ${calendar.label(ref.to)}`;
	const closed = plan.scenario.actualsThrough ?? -1;
	return {
		trace: result,
		title: account.name,
		place: [
			span,
			structure.departments.get(ref.department)!.name,
			...(severalCurrencies(structure) && isMoney(account)
				? [
						currencyIn(structure, ref.department, moneyView(structure, ref.department, ref.money)) ??
							'own currencies'
					]
				: [])
		].join(' · '),
		scenarioName: plan.scenario.name,
		ledger: result.explanations.some((e) => e.kind === 'actual')
			? await ledgerLines(
					db,
					ref.account,
					structure.departments.leaves(ref.department).map((d) => d.code),
					ref.from,
					Math.min(ref.to, closed)
				)
			: null,
		history:
			ref.from === ref.to && ref.in === undefined
				? await historyOf(db, scenario, [
						{
							what: 'cell',
							block: ACCOUNTS_BLOCK,
							line: ref.account,
							row: ref.department,
							period: calendar.key(ref.from)
						},
						{ what: 'basis', account: ref.account, department: ref.department }
					])
				: [],
		followedName: followed.get(plan.scenario.follows ?? '') ?? null,
		formulaLine: null
	};
}

const visibleNames = async (context: Context): Promise<Map<string, string>> =>
	new Map((await visibleScenarios(context)).map((s) => [s.code, s.name]));

async function ledgerLines(db: Knex, account: string, departments: string[], from: number, to: number) {
	const state = await companyState(db);
	const { structure, ledgerAccounts } = state;
	const ledger = ledgerAccounts.filter((l) => l.account === account);
	const names = new Map(ledger.map((l) => [l.code, l.name]));
	const sign = naturalFromDebit(structure.accounts.get(account)!.type);
	const entries = await readEntries(
		db('ledger_entry')
			.whereIn('ledger_account', [...names.keys()])
			.whereIn('department', departments)
			.whereBetween('period', [from, to])
			.orderBy('id')
	);
	const usual = await usualSizes(db, state, [...names.keys()], from);
	const lines = entries.map((e): LedgerLine => {
		const u = usual(e.ledger_account, e.department);
		return {
			date: e.date,
			ledgerAccount: e.ledger_account,
			ledgerName: names.get(e.ledger_account) ?? '',
			department: structure.departments.get(e.department)?.name ?? e.department,
			party: e.party,
			document: e.document,
			description: e.description,
			amount: sign * e.amount + 0,
			currency: structure.rowCurrency[structure.departmentRow.get(e.department) ?? -1] ?? structure.currency,
			unusual: isUnusual(e.amount, u),
			usual: u
		};
	});
	lines.sort((a, b) => Number(b.unusual) - Number(a.unusual) || Math.abs(b.amount) - Math.abs(a.amount));
	return {
		lines: lines.slice(0, MOST_LINES),
		count: lines.length,
		total:
			isMoney(structure.accounts.get(account)!) && new Set(lines.map((l) => l.currency)).size > 1
				? null
				: lines.reduce((s, l) => s + l.amount, 0)
	};
}
