/** A driver model's rows: what they are called, and what they lie under. */
import type { ModelDefinition } from './schema';
import { ROW_SEPARATOR } from '../../engine/row-key';
import { treeOf, type Structure } from '../../company/structure';

/** The members of a row in words: “Eider 10 · Dealer · Lakes”; nothing for a table of assumptions. */
export function rowName(structure: Structure, { dimensions }: ModelDefinition, key: string): string {
	if (!dimensions.length) return '';
	return key
		.split(ROW_SEPARATOR)
		.map((code, i) => treeOf(structure, dimensions[i])?.get(code)?.name ?? code)
		.join(' · ');
}

/** Whether a row lies under all members named (dimension → member). */
export function isUnder(
	where: Readonly<Record<string, string>>,
	definition: ModelDefinition,
	coordinate: readonly string[],
	structure: Structure
): boolean {
	return Object.entries(where).every(([dimension, under]) => {
		const member = coordinate[definition.dimensions.indexOf(dimension)];
		return member !== undefined && treeOf(structure, dimension)?.within(member, under) === true;
	});
}
