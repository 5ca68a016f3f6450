/** A step of an adjustment as a form has it: what is typed in it, and the step that it comes to. */
import type { Calendar } from '../../core/calendar/calendar';
import type { AdjustmentStepDefinition } from '../../core/inputs/schema';
import { readDay } from '../writing/dates';
import { day, plain, readFigure } from '../writing/format';
import type { Adjustable } from './words';

export type Kind = 'percent' | 'multiply' | 'add' | 'set' | 'shift';
export interface Draft {
	block: string;
	line: string;
	kind: Kind;
	amount: string;
	where: Record<string, string>;
	from: string;
	to: string;
}
export type AdjustableLine = Adjustable['lines'][number];

export const lineOf = (
	adjustables: readonly Adjustable[],
	{ block, line }: { block: string; line: string }
): AdjustableLine | undefined =>
	adjustables.find((a) => a.block === block)?.lines.find((l) => l.code === line);

/** What can be done to a line or column, in words. */
export function kindsOf(
	line: AdjustableLine | undefined,
	{ words }: Calendar
): { value: Kind; name: string }[] {
	if (line?.column === 'choice') return [{ value: 'set', name: 'set to' }];
	if (line?.column === 'date')
		return [
			{ value: 'shift', name: 'move by months' },
			{ value: 'add', name: 'move by days' },
			{ value: 'set', name: 'set to' }
		];
	const byAmount: { value: Kind; name: string }[] = [
		{ value: 'percent', name: 'change by percent' },
		{ value: 'add', name: 'add an amount' },
		{ value: 'multiply', name: 'multiply by' },
		{ value: 'set', name: 'set to' }
	];
	return line?.column === 'number'
		? byAmount
		: [...byAmount, { value: 'shift', name: `shift by ${words.many}` }];
}

/** What has to be typed. */
export function amountLabel(kind: Kind, line: AdjustableLine | undefined, { words }: Calendar): string {
	if (kind === 'percent') return 'Percent, − for less';
	if (line?.column === 'date')
		return kind === 'set' ? 'Date' : `${kind === 'add' ? 'Days' : 'Months'} later, − for earlier`;
	return kind === 'shift' ? `${words.Many} later, − for earlier` : 'Amount';
}

/** A step as a form has it; one for each line that it names. */
export function draftsOf(step: AdjustmentStepDefinition, adjustables: readonly Adjustable[]): Draft[] {
	const { where, from, to } = step;
	const kind: Kind = step.operation === 'multiply' ? 'percent' : step.operation;
	return step.lines.map((l) => ({
		...l,
		kind,
		amount: amountText(step, lineOf(adjustables, l)),
		where: { ...where },
		from: from ?? '',
		to: to ?? ''
	}));
}

const inPercent = (share: number) => plain(Number((share * 100).toPrecision(12)));
function amountText(step: AdjustmentStepDefinition, line: AdjustableLine | undefined): string {
	if (step.operation === 'shift') return String(step.periods);
	const { value } = step;
	if (typeof value === 'boolean') return String(value);
	if (typeof value === 'string') return line?.column === 'date' ? day(value) : value;
	if (step.operation === 'multiply') return inPercent(value - 1);
	return line?.format === 'percent' ? `${inPercent(value)} %` : plain(value);
}

/** @returns the step, or what is wrong with what is typed */
export function stepOf(
	draft: Draft,
	line: AdjustableLine | undefined,
	calendar: Calendar,
	company: Calendar
): AdjustmentStepDefinition | string {
	const { kind, amount } = draft;
	const timeless = line?.column !== undefined;
	if (!timeless && draft.from && draft.to && draft.from > draft.to)
		return `The last ${company.words.one} lies before the first.`;
	const scope = {
		lines: [{ block: draft.block, line: draft.line }],
		where: Object.fromEntries(Object.entries(draft.where).filter(([, m]) => m)),
		...(draft.from && !timeless ? { from: draft.from } : {}),
		...(draft.to && !timeless ? { to: draft.to } : {})
	};
	if (kind === 'set' && line?.column === 'choice') {
		const choice = line.choices?.find((c) => String(c.value) === amount);
		return choice ? { operation: 'set', value: choice.value, ...scope } : 'Choose what it is set to.';
	}
	if (kind === 'set' && line?.column === 'date') {
		const value = readDay(amount);
		return value === null
			? `“${amount}” is no date. Type one such as 15 Feb 2027 or 2027-02-15.`
			: { operation: 'set', value, ...scope };
	}
	// A percentage is a share where amounts are shares; a percent of an amount is typed as it is.
	const share = line?.format === 'percent' && (kind === 'add' || kind === 'set');
	const figure = readFigure(share ? amount : amount.replace(/%\s*$/, ''), share ? 'percent' : 'number');
	if (figure === undefined || figure === null) return `“${amount}” is no number.`;
	if (kind === 'shift' || (kind === 'add' && line?.column === 'date')) {
		const many = line?.column !== 'date' ? calendar.words.Many : kind === 'add' ? 'Days' : 'Months';
		if (!Number.isInteger(figure)) return `${many} are a whole number here.`;
		if (kind === 'shift') return { operation: 'shift', periods: figure, ...scope };
	}
	if (kind === 'percent')
		return { operation: 'multiply', value: Number((1 + figure / 100).toPrecision(14)), ...scope };
	return { operation: kind as 'multiply' | 'add' | 'set', value: figure, ...scope };
}
