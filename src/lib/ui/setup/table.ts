/** Trees of the company as tables. */
import type { MovedFigures } from '../../core/views/chart-row';
import type { GridRow } from '../grid/types';

/** In the order of the tree, each as far in as it lies. */
export const tableRows = (items: readonly { code: string; depth: number; leaf: boolean }[]): GridRow[] =>
	items.map(({ code, depth, leaf }) => ({
		key: code,
		label: code,
		kind: leaf ? 'leaf' : 'heading',
		format: 'money',
		indent: depth
	}));

/** Figures that move, by the item whose they are. */
export function movedBy(
	one: 'account' | 'department',
	moved: readonly MovedFigures[]
): [code: string, moved: MovedFigures[]][] {
	const found = new Map<string, MovedFigures[]>();
	for (const m of moved) found.set(m[one] ?? '', [...(found.get(m[one] ?? '') ?? []), m]);
	return [...found];
}

/** The ways to look at a tree. */
export const VIEWS = [
	{ key: 'tree', name: 'Tree' },
	{ key: 'table', name: 'Table' }
] as const;
export type View = (typeof VIEWS)[number]['key'];
