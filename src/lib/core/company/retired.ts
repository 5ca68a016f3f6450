/** Members that are kept with what they hold, and offered no more. */
import type { Member } from './schema';
import type { Structure } from './structure';
import type { Tree } from './tree';

/** Whether a member is retired, itself or with one above it. */
export const isRetired = (tree: Tree<Member>, code: string): boolean =>
	tree.ancestors(code).some((m) => m.retired);

/** Codes of all that are. */
export function retiredIn(tree: Tree<Member>): Set<string> {
	return new Set(tree.all.flatMap((m) => (m.retired ? tree.subtree(m.code).map((u) => u.code) : [])));
}

const NONE: ReadonlySet<string> = new Set();
/** The same of a dimension by its code; none of departments, or of one that is not there. */
export function retiredOf(structure: Structure, dimension: string): ReadonlySet<string> {
	const members = structure.dimensions.get(dimension)?.members;
	return members ? retiredIn(members) : NONE;
}
