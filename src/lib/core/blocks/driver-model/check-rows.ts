/** What must hold of the rows of a driver model. */
import { ModelError } from '../../engine/spec';
import { planFault } from '../../company/chart';
import { rowKey } from '../../engine/row-key';
import type { ModelDefinition } from './schema';
import { postingTargets } from './postings';
import { treeOf, type Structure } from '../../company/structure';

export interface RowFault {
	/** Place of the row in the list. */
	row: number;
	/** The dimension that is wrong; none where it is the row as a whole. */
	dimension: string | null;
	message: string;
}

/**
 * Everything that is wrong with rows: members that are not there or are totals, combinations that stand twice, postings
 * that lead nowhere.
 */
export function rowFaults(
	definition: ModelDefinition,
	rows: readonly (readonly string[])[],
	structure: Structure
): RowFault[] {
	const faults: RowFault[] = [];
	const { dimensions } = definition;
	const seen = new Set<string>();
	const good: { row: readonly string[]; at: number }[] = [];
	rows.forEach((row, at) => {
		const before = faults.length;
		const say = (dimension: string | null, message: string) => faults.push({ row: at, dimension, message });
		if (row.length !== dimensions.length)
			say(null, `a row of ${definition.name} names ${dimensions.join(', ')}`);
		else
			dimensions.forEach((d, i) => {
				const member = treeOf(structure, d)?.get(row[i]);
				if (!member) say(d, `there is no ${d} “${row[i]}”`);
				else if (!treeOf(structure, d)!.isLeaf(row[i]))
					say(d, `“${member.name}” is a total of others and holds no data itself`);
			});
		const key = rowKey(row);
		if (seen.has(key)) say(dimensions[0] ?? null, 'the combination stands twice');
		seen.add(key);
		if (faults.length === before) good.push({ row, at });
	});
	const targets = [...postingTargets(definition, structure).values()];
	for (const { row, at } of good) {
		const fault = postingFault(targets, row, structure);
		if (fault) faults.push({ row: at, dimension: null, message: fault });
	}
	return faults;
}

function postingFault(
	targets: readonly ((row: readonly string[]) => { account: string } | null)[],
	row: readonly string[],
	structure: Structure
): string | null {
	try {
		for (const targetOf of targets) {
			const account = targetOf(row)?.account;
			const fault = account === undefined ? null : planFault(structure.accounts, account);
			if (fault) return `its posting leads to ${account}: ${fault}`;
		}
		return null;
	} catch (e) {
		if (e instanceof ModelError) return e.message;
		throw e;
	}
}
