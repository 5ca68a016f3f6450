/** Adjustments in words. */
import { counted } from '../writing/count';
import type { Calendar } from '../../core/calendar/calendar';
import type { AdjustmentStepDefinition } from '../../core/inputs/schema';
import type { NumberFormat } from '../../core/company/schema';
import { day, exact } from '../writing/format';

/** What may be adjusted, with its names. */
export interface Adjustable {
	block: string;
	name: string;
	dimensions: { code: string; name: string; members: { code: string; name: string; depth: number }[] }[];
	lines: {
		code: string;
		name: string;
		format: NumberFormat;
		/** What a column of a schedule holds; absent for what has figures by month. */
		column?: 'number' | 'date' | 'choice';
		choices?: { value: string | boolean; name: string }[];
	}[];
}

const percent = (share: number) => {
	const p = Number((share * 100).toPrecision(10));
	return `${p < 0 ? '−' : '+'}${Math.abs(p)} %`;
};

/** `+5 %`, `+12,000`, `= 3`, `2 months later`; of a schedule's column, `14 days later`, `= 31 Mar 2027`. */
export function operationWords(
	step: AdjustmentStepDefinition,
	{ words }: Calendar,
	line?: Pick<Adjustable['lines'][number], 'column' | 'format'>
): string {
	const column = line?.column;
	const amount = (v: number) => exact(v, line?.format === 'percent' ? 'percent' : 'number');
	const byTime = (n: number, one: string, many: string) =>
		`${counted(Math.abs(n), one, many)} ${n < 0 ? 'earlier' : 'later'}`;
	switch (step.operation) {
		case 'multiply':
			return percent(step.value - 1);
		case 'add':
			return column === 'date'
				? byTime(step.value, 'day', 'days')
				: `${step.value < 0 ? '−' : '+'}${amount(Math.abs(step.value))}`;
		case 'set': {
			const { value } = step;
			if (typeof value === 'boolean') return `= ${value ? 'yes' : 'no'}`;
			if (typeof value === 'number') return `= ${amount(value)}`;
			return `= ${column === 'date' ? day(value) : value}`;
		}
		case 'shift':
			// Dates are moved by months of the calendar that all have.
			return column === 'date'
				? byTime(step.periods, 'month', 'months')
				: byTime(step.periods, words.one, words.many);
	}
}

/** Lines, members, values of columns and months of a step. */
export function scopeWords(
	step: AdjustmentStepDefinition,
	adjustables: readonly Adjustable[],
	calendar: Calendar
): string {
	const of = (block: string) => adjustables.find((a) => a.block === block);
	const lines = step.lines.map((l) => {
		const own = of(l.block)?.lines.find((x) => x.code === l.line);
		// “Start” alone does not say whose.
		return own?.column ? `${of(l.block)!.name}: ${own.name}` : (own?.name ?? l.line);
	});
	const dimensions = step.lines.flatMap((l) => of(l.block)?.dimensions ?? []);
	const members = Object.entries(step.where).map(([d, m]) => {
		const own = dimensions.find((x) => x.code === d);
		// What is said of a row with yes or no is nothing without what is asked.
		if (own && (m === 'yes' || m === 'no')) return `${own.name}: ${m}`;
		return own?.members.find((x) => x.code === m)?.name ?? m;
	});
	const month = (key: string | undefined) => {
		const p = key === undefined ? null : calendar.parse(key);
		return p === null ? '' : calendar.label(p);
	};
	const when =
		step.from && step.to
			? step.from === step.to
				? month(step.from)
				: `${month(step.from)} – ${month(step.to)}`
			: step.from
				? `from ${month(step.from)}`
				: step.to
					? `to ${month(step.to)}`
					: '';
	return [lines.join(', '), ...members, when].filter(Boolean).join(' · ');
}
