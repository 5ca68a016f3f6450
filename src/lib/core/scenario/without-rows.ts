/** A scenario with what rows of its schedules come to in the place of the rows: for those who may not see these. */
import {
	departmentColumn,
	sharesCode,
	type ScenarioSchedule,
	type ScheduleColumn,
	type ScheduleLine,
	type ScheduleRow
} from '../blocks/schedule/schema';
import { codeIn, sharesShape } from '../blocks/schedule/shape';
import { cellAt } from '../engine/values';
import type { Series } from '../inputs/series';
import type { ScenarioData } from './data';
import type { Plan } from './plan';

/**
 * The figures of all accounts, and of all that reads lines of schedules by department, are the same: each schedule has a row
 * for every department, member that rows name, and account to which it posts, with the sums of its lines typed in. Adjustments over
 * schedules are in these.
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

function summedUp(
	{ calculation }: Plan,
	schedule: ScenarioSchedule
): { schedule: ScenarioSchedule; series: Series[] } {
	const { definition, rows } = schedule;
	const { code } = definition;
	const department = departmentColumn(definition);
	const accounts = definition.postings.flatMap((p) => ('column' in p.account ? p.account.column : []));
	/** Where rows stand beside their department: accounts to which they are posted, and members by which they are read. */
	const placing = definition.columns
		.filter((c) => c.formula === undefined && (accounts.includes(c.code) || c.kind === 'member'))
		.map((c) => c.code);
	const shape = department
		? sharesShape(schedule)
		: { of: rows.map((_, i) => i), rows: rows.map(() => [] as string[]) };
	const block = department ? sharesCode(code) : code;
	/** Places of the block by where they go. */
	const groups = new Map<string, { row: ScheduleRow; places: number[] }>();
	shape.of.forEach((r, place) => {
		const at = department ? shape.rows[place].at(-1)! : '';
		const to = placing.map((column) => codeIn(rows[r], column));
		const key = [at, ...to].join('\u0000');
		const group = groups.get(key) ?? {
			row: {
				// The same in every scenario.
				id: [at, ...to].join(' / '),
				values: {
					...(department ? { [department.code]: at } : {}),
					...Object.fromEntries(placing.flatMap((column, i) => (to[i] ? [[column, to[i]]] : [])))
				}
			},
			places: []
		};
		groups.set(key, group);
		group.places.push(place);
	});
	const lines = definition.lines.filter((l) => l.adds);
	const { first, length } = calculation.axisOf(block);
	const series = lines.flatMap(({ code: line }) => {
		const matrix = calculation.matrix(block, line);
		return [...groups.values()].map(({ row, places }): Series => {
			const values = new Float64Array(length);
			for (let t = 0; t < length; t++)
				for (const place of places) {
					const cell = cellAt(matrix, place, t);
					// An error cannot be typed in; it is none of theirs to mend.
					if (typeof cell === 'number') values[t] += cell;
				}
			return { block: code, line, row: row.id, first, values };
		});
	});
	const kept = (c: ScheduleColumn) => c === department || placing.includes(c.code);
	return {
		schedule: {
			definition: {
				...definition,
				named: NAME,
				divided: false,
				columns: [
					{ code: NAME, label: 'What', kind: 'text', unit: '', required: false },
					...definition.columns.filter(kept)
				],
				lines: lines.map(typedIn)
			},
			rows: [...groups.values()].map((g) => g.row)
		},
		series
	};
}

function typedIn(line: ScheduleLine): ScheduleLine {
	const typed = { ...line };
	delete typed.formula;
	return typed;
}
