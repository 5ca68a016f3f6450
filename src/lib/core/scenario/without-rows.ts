/** A scenario with what rows of its schedules come to in the place of the rows: for those who may not see these. */
import { formulasOf } from '../blocks/driver-model/schema';
import { readsOf } from '../blocks/schedule/personal';
import { targetOf, targetsOf } from '../blocks/schedule/postings';
import {
	departmentColumn,
	formulasOfSchedule,
	sharesCode,
	type ScenarioSchedule,
	type ScheduleColumn,
	type ScheduleDefinition,
	type ScheduleLine,
	type SchedulePosting,
	type ScheduleRow,
	type ScheduleTarget
} from '../blocks/schedule/schema';
import { codeIn, dimensionsOf, sharesShape } from '../blocks/schedule/shape';
import { cellAt } from '../engine/values';
import type { Series } from '../inputs/series';
import type { ScenarioData } from './data';
import type { Plan } from './plan';

/**
 * The figures of all accounts, and of all that reads lines of schedules by department, are the same: each schedule has a row
 * for every department, account to which it posts, and member by which one of its lines is read, with the sums of its lines
 * typed in. Adjustments over schedules are in these.
 * @param plan as it is calculated from `data`
 * @param closed of which schedules that holds; all of them by default
 */
export function withoutRows(
	plan: Plan,
	data: ScenarioData,
	closed: (schedule: string) => boolean = () => true
): ScenarioData {
	const held = (data.schedules ?? []).filter((s) => s.rows.length && closed(s.definition.code));
	if (!held.length) return data;
	const summed = new Map(held.map((s) => [s.definition.code, summedUp(plan, s)]));
	const own = new Set([...summed.keys()].flatMap((code) => [code, sharesCode(code)]));
	return {
		...data,
		schedules: data.schedules!.map((s) => summed.get(s.definition.code)?.schedule ?? s),
		series: [
			...data.series.filter((s) => !own.has(s.block)),
			...[...summed.values()].flatMap((s) => s.series)
		],
		adjustments: data.adjustments?.flatMap((adjustment) => {
			const steps = adjustment.steps.flatMap((step) => {
				const lines = step.lines.filter((l) => !own.has(l.block));
				return lines.length ? [{ ...step, lines }] : [];
			});
			return steps.length ? [{ ...adjustment, steps }] : [];
		})
	};
}

/** By what a row is called, beside the columns that say where it stands. */
const NAME = 'called';

function summedUp(plan: Plan, schedule: ScenarioSchedule): { schedule: ScenarioSchedule; series: Series[] } {
	const { calculation, structure } = plan;
	const { definition, rows } = schedule;
	const { code } = definition;
	const department = departmentColumn(definition);
	const members = new Map(
		definition.columns.flatMap((c) => (c.kind === 'member' ? [[c.dimension!, c]] : []))
	);
	const readBy = membersRead(plan, definition);
	const { columns: accounts, postings } = postedByAccount(definition);
	const fine = [...members].filter(([d]) => [...readBy.values()].some((own) => own.has(d)));
	const shape = department
		? sharesShape(schedule)
		: { of: rows.map((_, i) => i), rows: rows.map(() => [] as string[]) };
	const block = department ? sharesCode(code) : code;
	/** Places of the block by where they go. */
	const groups = new Map<string, { row: ScheduleRow; places: number[]; at: string; of: string[] }>();
	shape.of.forEach((r, place) => {
		const to = accounts.map(({ target }) => targetOf(definition, target, rows[r], structure));
		const of = fine.map(([, column]) => codeIn(rows[r], column.code));
		const at = [department ? shape.rows[place].at(-1)! : '', ...to];
		const key = [...at, ...of].join('\u0000');
		const group = groups.get(key) ?? {
			row: {
				// The same in every scenario.
				id: [...at, ...of].join(' / '),
				values: {
					...(department ? { [department.code]: at[0] } : {}),
					...Object.fromEntries(accounts.flatMap(({ column }, i) => (to[i] ? [[column.code, to[i]]] : []))),
					...Object.fromEntries(fine.flatMap(([, column], i) => (of[i] ? [[column.code, of[i]]] : [])))
				}
			},
			places: [],
			at: at.join('\u0000'),
			of
		};
		groups.set(key, group);
		group.places.push(place);
	});
	const lines = definition.lines.filter((l) => l.adds);
	const { first, length } = calculation.axisOf(block);
	const series = lines.flatMap(({ code: line }) => {
		const matrix = calculation.matrix(block, line);
		// A line is told apart by no more than it is read by: of those who are alike in that, the first row holds all.
		const by = fine.map(([dimension]) => readBy.get(line)?.has(dimension) ?? false);
		const sums = new Map<string, Series>();
		for (const { row, places, at, of } of groups.values()) {
			const key = [at, ...of.filter((_, i) => by[i])].join('\u0000');
			const own = sums.get(key) ?? {
				block: code,
				line,
				row: row.id,
				first,
				values: new Float64Array(length)
			};
			sums.set(key, own);
			const values = own.values as Float64Array;
			for (let t = 0; t < length; t++)
				for (const place of places) {
					const cell = cellAt(matrix, place, t);
					// An error cannot be typed in; it is none of theirs to mend.
					if (typeof cell === 'number') values[t] += cell;
				}
		}
		return [...sums.values()];
	});
	return {
		schedule: {
			definition: {
				...definition,
				named: NAME,
				divided: false,
				columns: [
					{ code: NAME, label: 'What', kind: 'text', unit: '', required: false },
					...(department ? [department] : []),
					...accounts.map((a) => a.column),
					...fine.map(([, column]) => column)
				],
				lines: lines.map(typedIn),
				postings
			},
			rows: [...groups.values()].map((g) => g.row)
		},
		series
	};
}

/** By line, the dimensions by whose members models and other schedules look it up. */
function membersRead(
	{ models, schedules }: Plan,
	{ code }: ScheduleDefinition
): ReadonlyMap<string, ReadonlySet<string>> {
	const found = new Map<string, Set<string>>();
	const readers = [
		...[...models.values()].map(({ definition: d }) => ({
			dimensions: d.dimensions,
			formulas: d.lines.flatMap(formulasOf)
		})),
		...[...schedules.values()]
			.filter((s) => s.definition.code !== code)
			.map(({ definition: d }) => ({ dimensions: dimensionsOf(d), formulas: formulasOfSchedule(d) }))
	];
	for (const { dimensions, formulas } of readers)
		for (const { block, line } of formulas.flatMap(readsOf)) {
			if (block !== code && block !== sharesCode(code)) continue;
			const own = found.get(line) ?? new Set();
			found.set(line, own);
			for (const dimension of dimensions) own.add(dimension);
		}
	return found;
}

/** Postings that lead to accounts which stand in columns, whatever a row's members say of it: no more is told than is posted. */
function postedByAccount(definition: ScheduleDefinition): {
	columns: { column: ScheduleColumn; target: ScheduleTarget }[];
	postings: SchedulePosting[];
} {
	const columns: { column: ScheduleColumn; target: ScheduleTarget }[] = [];
	const seen = new Map<string, ScheduleTarget>();
	for (const target of targetsOf(definition)) {
		if ('code' in target) continue;
		const code = 'column' in target ? target.column : `posted_to_${columns.length + 1}`;
		const column: ScheduleColumn = { code, label: code, kind: 'account', unit: '', required: true };
		columns.push({ column, target });
		seen.set(JSON.stringify(target), { column: code });
	}
	const byColumn = (target: ScheduleTarget) => seen.get(JSON.stringify(target)) ?? target;
	const postings = definition.postings.map((p) => ({
		...p,
		account: byColumn(p.account),
		...(p.other ? { other: byColumn(p.other) } : {})
	}));
	return { columns, postings };
}

function typedIn(line: ScheduleLine): ScheduleLine {
	const typed = { ...line };
	delete typed.formula;
	return typed;
}
