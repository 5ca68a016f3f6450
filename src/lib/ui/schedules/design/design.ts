/** Plain helpers for designing schedules. */
import {
	ScheduleColumn,
	ScheduleLine,
	type ColumnValue,
	type ScheduleDefinition,
	type SchedulePosting,
	type ScheduleTarget
} from '../../../core/blocks/schedule/schema';
import { namingColumn, targetsOf } from '../../../core/blocks/schedule/postings';
import { codeFor } from '../../../core/company/code';

export const KINDS: readonly (readonly [kind: ScheduleColumn['kind'], name: string])[] = [
	['text', 'text'],
	['date', 'date'],
	['number', 'number'],
	['money', 'money'],
	['percent', 'percent'],
	['pick', 'one of a list of its own'],
	['yes-no', 'yes or no'],
	['account', 'account'],
	['department', 'department'],
	['member', 'member of a dimension'],
	['row', 'row of another schedule']
];
export const kindName = (kind: ScheduleColumn['kind']): string => KINDS.find(([k]) => k === kind)![1];

/** A name for formulas, made from a label. */
export const codeOf = (label: string, taken: readonly string[], otherwise: string): string =>
	codeFor(label, '_', taken, otherwise);

export const newColumn = (code: string, label: string): ScheduleColumn =>
	ScheduleColumn.parse({ code, label, kind: 'text' });
export const newLine = (code: string, label: string): ScheduleLine => ScheduleLine.parse({ code, label });

/** A column of another kind: what only the former had is left out. */
export function asKind(column: ScheduleColumn, kind: ScheduleColumn['kind']): ScheduleColumn {
	const { code, label, unit, required, formula } = column;
	const numbers = ['number', 'money', 'percent'];
	const alike = numbers.includes(column.kind) && numbers.includes(kind);
	return {
		code,
		label,
		kind,
		unit: numbers.includes(kind) ? unit : '',
		required,
		...(kind === 'pick' ? { choices: column.choices ?? ['first', 'second'] } : {}),
		...(alike && column.least !== undefined ? { least: column.least } : {}),
		...(alike && column.most !== undefined ? { most: column.most } : {}),
		...(formula === undefined ? {} : { formula })
	};
}

/** A column or line with some of it other; what is `undefined` is left out. */
export function changed<T extends object>(part: T, more: { [K in keyof T]?: T[K] | undefined }): T {
	const next = { ...part, ...more };
	for (const key of Object.keys(more) as (keyof T)[]) if (more[key] === undefined) delete next[key];
	return next as T;
}

const word = (text: string, from: string, to: string) => text.replace(new RegExp(`\\b${from}\\b`, 'g'), to);

/** A definition in which a column is called otherwise in formulas, and where it is spoken of. */
export function recoded(d: ScheduleDefinition, from: string, to: string): ScheduleDefinition {
	const formula = <T extends { formula?: string }>(part: T): T =>
		part.formula === undefined ? part : { ...part, formula: word(part.formula, from, to) };
	const limit = (v: ScheduleColumn['least']) => (v === from ? to : v);
	const named = (t: ScheduleTarget): ScheduleTarget =>
		'column' in t && t.column === from ? { column: to } : t;
	return {
		...d,
		named: d.named === from ? to : d.named,
		columns: d.columns.map((c) =>
			changed(formula(c.code === from ? { ...c, code: to } : c), {
				least: limit(c.least),
				most: limit(c.most)
			})
		),
		lines: d.lines.map(formula),
		postings: d.postings.map((p) => ({
			...p,
			account: named(p.account),
			...(p.other ? { other: named(p.other) } : {})
		}))
	};
}

/** Takes a column out with the postings that it names the account of. */
export const withoutColumn = (d: ScheduleDefinition, code: string): ScheduleDefinition => ({
	...d,
	columns: d.columns.filter((c) => c.code !== code),
	named: d.named === code ? (d.columns.find((c) => c.code !== code)?.code ?? d.named) : d.named,
	postings: d.postings.filter((p) =>
		targetsOf({ postings: [p] }).every((target) => namingColumn(d, target) !== code)
	)
});
export const withoutLine = (d: ScheduleDefinition, code: string): ScheduleDefinition => ({
	...d,
	lines: d.lines.filter((l) => l.code !== code),
	postings: d.postings.filter((p) => p.line !== code)
});
export const withPostings = (
	d: ScheduleDefinition,
	line: string,
	postings: readonly SchedulePosting[]
): ScheduleDefinition => ({ ...d, postings: [...d.postings.filter((p) => p.line !== line), ...postings] });

/** A posting's account as one text, for a list to choose from. */
export const targetText = (target: ScheduleTarget): string =>
	'code' in target ? `=${target.code}` : 'column' in target ? target.column : `@${target.attribute}`;
export function targetFrom(text: string): ScheduleTarget {
	if (text.startsWith('=')) return { code: text.slice(1) };
	return text.startsWith('@') ? { attribute: text.slice(1) } : { column: text };
}

/** What is typed as a limit or as what is usual: a number, or as it stands. */
export const limitFrom = (text: string): number | string | undefined => {
	const t = text.trim();
	if (t === '') return undefined;
	return /^-?\d+(\.\d+)?$/.test(t) ? Number(t) : t;
};
export function usualFrom(kind: ScheduleColumn['kind'], text: string): ColumnValue | undefined {
	const t = text.trim();
	if (t === '') return undefined;
	if (kind === 'yes-no') return t === 'yes';
	return ['number', 'money', 'percent'].includes(kind) && !Number.isNaN(Number(t)) ? Number(t) : t;
}
export const usualText = (value: ColumnValue | undefined): string =>
	value === undefined ? '' : typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value);
