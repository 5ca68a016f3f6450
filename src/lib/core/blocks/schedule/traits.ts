/** By what rows of a schedule are told apart: the values of those of its columns that are no amounts. */
import type { Structure } from '../../company/structure';
import type { Tree } from '../../company/tree';
import type { Trait } from '../traits';
import { rowValue } from './row-changes';
import type { ScenarioSchedule, ScheduleColumn, ScheduleRow } from './schema';

/** Most different texts that can be chosen from. */
const MOST_TEXTS = 500;

const YES_NO = [
	{ code: 'yes', name: 'Yes', depth: 0 },
	{ code: 'no', name: 'No', depth: 0 }
];

/** @param rowOf for a place of the block the row of the schedule that stands there */
export function traitsOf(
	{ definition, rows }: ScenarioSchedule,
	structure: Structure,
	rowOf: (place: number) => ScheduleRow
): Trait[] {
	return definition.columns.flatMap((column) => traitOf(column, rows, structure, rowOf) ?? []);
}

function traitOf(
	column: ScheduleColumn,
	rows: readonly ScheduleRow[],
	structure: Structure,
	rowOf: (place: number) => ScheduleRow
): Trait | null {
	const { code, label, kind } = column;
	if (column.formula !== undefined) return null;
	/** Nothing said is not yes. */
	const inRow = (place: number): string => {
		const value = rowValue(rowOf(place), code);
		return kind === 'yes-no' ? (value === true ? 'yes' : 'no') : value === null ? '' : String(value);
	};
	const trait = { code, label, holds: (place: number, value: string) => inRow(place) === value };
	const used = () => new Set(rows.map((row) => String(rowValue(row, code) ?? '')).filter((v) => v !== ''));
	const plainly = (names: Iterable<string>) => [...names].map((name) => ({ code: name, name, depth: 0 }));
	const tree = treeIn(column, structure);
	if (tree)
		return {
			...trait,
			holds: (place, value) => tree.within(inRow(place), value),
			values() {
				const inUse = new Set([...used()].flatMap((c) => tree.ancestors(c).map((a) => a.code)));
				return tree.all
					.filter((m) => inUse.has(m.code))
					.map((m) => ({ code: m.code, name: m.name, depth: tree.depth(m.code) }));
			},
			fault: (value) => (tree.get(value) ? null : `there is no ${kind} “${value}”`)
		};
	switch (kind) {
		case 'pick': {
			const choices = column.choices ?? [];
			return {
				...trait,
				values: () => plainly(choices),
				fault: (value) => (choices.includes(value) ? null : `“${value}” is none of ${choices.join(', ')}`)
			};
		}
		case 'yes-no':
			return {
				...trait,
				values: () => YES_NO,
				fault: (value) => (value === 'yes' || value === 'no' ? null : `“${value}” is neither yes nor no`)
			};
		case 'text':
		case 'row':
			return {
				...trait,
				values: () => plainly([...used()].sort((a, b) => a.localeCompare(b, 'en')).slice(0, MOST_TEXTS)),
				fault: () => null
			};
		default:
			return null;
	}
}

type AnyTree = Pick<
	Tree<{ code: string; name: string; parent: string | null }>,
	'all' | 'get' | 'within' | 'ancestors' | 'depth'
>;
function treeIn({ kind, dimension }: ScheduleColumn, structure: Structure): AnyTree | undefined {
	switch (kind) {
		case 'department':
			return structure.departments;
		case 'account':
			return structure.accounts;
		case 'member':
			return dimension === undefined ? undefined : structure.dimensions.get(dimension)?.members;
		default:
			return undefined;
	}
}
