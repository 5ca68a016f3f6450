/** Which rule of a line covers which cells: for each cell the first that does. */
import type { RuleSpec } from '../spec';

/** A run of rows: from included, to excluded. */
export type Run = readonly [from: number, to: number];

/** The cells that one rule covers in a span of periods. */
export interface Region {
	/** Place of the rule in the line's list. */
	rule: number;
	/** Ascending runs of rows. */
	runs: readonly Run[];
	from: number;
	to: number;
}

export const allRows = (rows: number): readonly Run[] => (rows ? [[0, rows]] : []);

/** Runs of the rows for which `wanted` holds. */
export function runsWhere(rows: number, wanted: (row: number) => boolean): Run[] {
	const runs: Run[] = [];
	let start = -1;
	for (let r = 0; r <= rows; r++) {
		const is = r < rows && wanted(r);
		if (is && start < 0) start = r;
		if (!is && start >= 0) {
			runs.push([start, r]);
			start = -1;
		}
	}
	return runs;
}

export function runsMeet(a: readonly Run[], b: readonly Run[]): boolean {
	let j = 0;
	for (const [from, to] of a) {
		while (j < b.length && b[j][1] <= from) j++;
		if (j < b.length && b[j][0] < to) return true;
	}
	return false;
}

/** Most rules × rows of a line; dividing them among cells takes a while. */
export const MOST_RULE_ROWS = 1_000_000;

/** Divides a line's cells among its rules. Cells that no rule covers are in no region. */
export function regionsOf(rules: readonly RuleSpec[], rows: number, periods: number): Region[] {
	const spans = rules.map(
		({ from = 0, to = periods }) => [Math.max(0, from), Math.min(periods, to)] as const
	);
	const simple = rules.length === 1 && !rules[0].rows;
	if (simple) {
		const [[from, to]] = spans;
		return rules[0].expr && from < to && rows ? [{ rule: 0, runs: allRows(rows), from, to }] : [];
	}
	const claims = rules.map(({ rows: only }) => (only ? Int32Array.from(only) : null));
	const cuts = [...new Set(spans.flat())].filter((t) => t >= 0 && t <= periods).sort((a, b) => a - b);
	const regions: Region[] = [];
	for (let c = 0; c + 1 < cuts.length; c++) {
		const [from, to] = [cuts[c], cuts[c + 1]];
		const owner = new Int32Array(rows).fill(-1);
		rules.forEach((_, rule) => {
			const [begin, end] = spans[rule];
			if (begin > from || end < to) return;
			const own = claims[rule];
			if (own) {
				for (let k = 0; k < own.length; k++) if (owner[own[k]] < 0) owner[own[k]] = rule;
			} else for (let r = 0; r < rows; r++) if (owner[r] < 0) owner[r] = rule;
		});
		const holds = new Uint8Array(rules.length);
		for (let r = 0; r < rows; r++) if (owner[r] >= 0) holds[owner[r]] = 1;
		rules.forEach(({ expr }, rule) => {
			if (!expr || !holds[rule]) return;
			const runs = runsWhere(rows, (r) => owner[r] === rule);
			const before = regions.find((x) => x.rule === rule && x.to === from && sameRuns(x.runs, runs));
			if (before) before.to = to;
			else regions.push({ rule, runs, from, to });
		});
	}
	return regions;
}

const sameRuns = (a: readonly Run[], b: readonly Run[]) =>
	a.length === b.length && a.every((run, i) => run[0] === b[i][0] && run[1] === b[i][1]);
