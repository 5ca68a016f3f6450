/** Plain helpers for designing driver models. */
import type { Line, ModelDefinition, Posting, PostingTarget } from '../../../core/blocks/driver-model/schema';
import { codeFor } from '../../../core/company/code';
import { buildTree, type TreeItem } from '../../../core/company/tree';
import { readBlock } from '../../grid/editing/clipboard';
import { plain, readFigure } from '../../writing/format';

export interface OfferedMember {
	code: string;
	name: string;
	depth: number;
	/** Whether it can be chosen anew; one that is retired is shown where it is chosen already. */
	offered: boolean;
}
export interface DesignDimension {
	code: string;
	name: string;
	members: OfferedMember[];
	attributes: string[];
}

/** Members in tree order with their depths, for lists to choose from. */
export function inTreeOrder(items: readonly (TreeItem & { retired?: boolean })[]): OfferedMember[] {
	const tree = buildTree(items);
	return tree.all.map(({ code, name }) => ({
		code,
		name,
		depth: tree.depth(code),
		offered: !tree.ancestors(code).some((m) => m.retired)
	}));
}

/** Those that can be chosen, and those that are. */
export const choosable = <M extends { code: string; offered: boolean }>(
	members: readonly M[],
	chosen: readonly string[]
): M[] => members.filter((m) => m.offered || chosen.includes(m.code));

/** A name for formulas, made from a line's label. */
export const codeOf = (label: string, taken: readonly string[]): string => codeFor(label, '_', taken, 'line');

export const newLine = (code: string, label: string): Line => ({
	code,
	label,
	unit: '',
	format: 'number',
	rollup: { time: 'sum', members: 'sum' },
	closed: 'blank',
	extend: 'year-ago'
});

/** A posting's target as one text, for a list to choose from. */
export const targetText = (target: PostingTarget): string =>
	'code' in target ? `=${target.code}` : target.attribute;
export const targetFrom = (text: string): PostingTarget =>
	text.startsWith('=') ? { code: text.slice(1) } : { attribute: text };

/** Takes a line out with what belongs to it alone. */
export function withoutLine(definition: ModelDefinition, code: string): ModelDefinition {
	const other = (x: { line: string }) => x.line !== code;
	return {
		...definition,
		lines: definition.lines.filter((l) => l.code !== code),
		postings: definition.postings.filter(other),
		...(definition.proofs ? { proofs: definition.proofs.filter(other) } : {})
	};
}

/** Postings of one line put in the place of those it had; the others keep their order. */
export function withPostings(
	definition: ModelDefinition,
	line: string,
	postings: readonly Posting[]
): ModelDefinition {
	return { ...definition, postings: [...definition.postings.filter((p) => p.line !== line), ...postings] };
}

/** Expected figures as they were typed or pasted, one a month, from a row or a column; text that is no number is told. */
export function readExpected(text: string, format: Line['format']): (number | null)[] | string {
	const cells = readBlock(text.replace(/\n+$/, '')).flat();
	const figures: (number | null)[] = [];
	for (const cell of cells) {
		const value = readFigure(cell, format);
		if (value === undefined) return `“${cell}” is no number.`;
		figures.push(value);
	}
	while (figures.length && figures.at(-1) === null) figures.pop();
	return figures.length ? figures : 'Type or paste at least one figure.';
}
export const writeExpected = (expected: readonly (number | null)[], format: Line['format']): string =>
	expected.map((v) => (v === null ? '' : plain(format === 'percent' ? v * 100 : v))).join('\n');
