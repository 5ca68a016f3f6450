/** Names of a driver model's rows. */
import type { ModelDefinition } from '../model/schema';
import { ROW_SEPARATOR } from '../model/schema';
import { treeOf, type Structure } from './structure';

/** The members of a row in words: “Eider 10 · Dealer · Lakes”; nothing for a table of assumptions. */
export function rowName(structure: Structure, { dimensions }: ModelDefinition, key: string): string {
	if (!dimensions.length) return '';
	return key
		.split(ROW_SEPARATOR)
		.map((code, i) => treeOf(structure, dimensions[i])?.get(code)?.name ?? code)
		.join(' · ');
}
