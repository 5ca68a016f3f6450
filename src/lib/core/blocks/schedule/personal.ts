/** What of schedules tells what single people earn: columns and lines that are marked so, and all that is made of them. */
import { walk } from '../../formula/ast';
import { parseFormula } from '../../formula/parse';
import {
	sharesCode,
	type ScenarioSchedule,
	type ScheduleColumn,
	type ScheduleDefinition,
	type ScheduleRow
} from './schema';

/** By schedule, the columns and lines that are personal; schedules without any are not in it. */
export type Personal = ReadonlyMap<string, ReadonlySet<string>>;

/**
 * Follows formulas through all schedules of a scenario: what reads something personal, in its own row or in rows of another
 * schedule, is personal too, whether it is marked or not.
 */
export function personalIn(definitions: readonly ScheduleDefinition[]): Personal {
	const found = new Map<string, Set<string>>();
	const readBy = new Map<string, { schedule: string; code: string }[]>();
	const waiting: { schedule: string; code: string }[] = [];
	const owner = new Map(definitions.flatMap(({ code: c }) => [[c, c] as const, [sharesCode(c), c] as const]));
	for (const { code: schedule, columns, lines } of definitions)
		for (const { code, personal, formula } of [...columns, ...lines]) {
			if (personal) waiting.push({ schedule, code });
			for (const read of formula === undefined ? [] : readsOf(formula)) {
				const of = read.block === null ? schedule : owner.get(read.block);
				if (of === undefined) continue;
				const key = `${of}.${read.line}`;
				const list = readBy.get(key);
				if (list) list.push({ schedule, code });
				else readBy.set(key, [{ schedule, code }]);
			}
		}
	for (let at = waiting.pop(); at; at = waiting.pop()) {
		const own = found.get(at.schedule) ?? new Set();
		if (own.has(at.code)) continue;
		found.set(at.schedule, own.add(at.code));
		waiting.push(...(readBy.get(`${at.schedule}.${at.code}`) ?? []));
	}
	return found;
}

/** Lines that a formula reads; those of its own block without a block. */
export function readsOf(formula: string): { block: string | null; line: string }[] {
	const reads: { block: string | null; line: string }[] = [];
	const { expr } = parseFormula(formula);
	if (expr) walk(expr, (e) => e.kind === 'reference' && reads.push({ block: e.block, line: e.line }));
	return reads;
}

/** Whether a cell of a schedule's blocks, or a column of its rows, is personal. */
export const isPersonal = (personal: Personal, block: string, line: string): boolean =>
	personal.get(ownerOf(block))?.has(line) ?? false;
/** The schedule to which a block belongs. */
export const ownerOf = (block: string): string =>
	block.endsWith(sharesCode('')) ? block.slice(0, -sharesCode('').length) : block;

/** A schedule as whoever may not see anything personal has it: without these columns, lines and postings. */
export function withoutPersonal(schedule: ScenarioSchedule, personal: Personal): ScenarioSchedule {
	const hidden = personal.get(schedule.definition.code);
	return hidden
		? {
				definition: impersonal(schedule.definition, hidden),
				rows: schedule.rows.map((row) => withoutValues(row, hidden))
			}
		: schedule;
}

function impersonal(definition: ScheduleDefinition, hidden: ReadonlySet<string>): ScheduleDefinition {
	const known = (limit: number | string | undefined) => typeof limit !== 'string' || !hidden.has(limit);
	return {
		...definition,
		columns: definition.columns
			.filter((c) => !hidden.has(c.code))
			.map(({ least, most, ...c }) => ({
				...c,
				...(least !== undefined && known(least) ? { least } : {}),
				...(most !== undefined && known(most) ? { most } : {})
			})),
		lines: definition.lines.filter((l) => !hidden.has(l.code)),
		postings: definition.postings.filter((p) => !hidden.has(p.line))
	};
}

function withoutValues(row: ScheduleRow, hidden: ReadonlySet<string>): ScheduleRow {
	const values = Object.fromEntries(Object.entries(row.values).filter(([code]) => !hidden.has(code)));
	return { ...row, values };
}

/**
 * An earlier form of a schedule, personal wherever it is so now: going back to it shows nobody more than they see today. What
 * is not there any more counts as personal where anything is.
 */
export function markedAs(definition: ScheduleDefinition, now: ScheduleDefinition): ScheduleDefinition {
	const today = new Map([...now.columns, ...now.lines].map((c) => [c.code, c.personal ?? false]));
	if (![...today.values()].includes(true)) return definition;
	const isMarked = (code: string) => today.get(code) ?? true;
	const placed = (c: ScheduleColumn) => PLACING.has(c.kind) || c.code === definition.named;
	return {
		...definition,
		columns: definition.columns.map((c) => (isMarked(c.code) && !placed(c) ? { ...c, personal: true } : c)),
		lines: definition.lines.map((l) => (isMarked(l.code) ? { ...l, personal: true } : l))
	};
}

/** Kinds of columns that say where a row stands, which shows in accounts: they are never personal. */
export const PLACING: ReadonlySet<ScheduleColumn['kind']> = new Set([
	'department',
	'account',
	'member',
	'row'
]);
