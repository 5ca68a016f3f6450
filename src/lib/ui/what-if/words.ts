/** Adjustments in words. */
import { counted } from '../writing/count';
import type { Calendar } from '../../core/calendar/calendar';
import type { AdjustmentStepDefinition } from '../../core/inputs/schema';
import type { NumberFormat } from '../../core/company/schema';
import { exact } from '../writing/format';

/** What may be adjusted, with its names. */
export interface Adjustable {
	block: string;
	name: string;
	dimensions: { code: string; name: string; members: { code: string; name: string; depth: number }[] }[];
	lines: { code: string; name: string; format: NumberFormat }[];
}

const percent = (share: number) => {
	const p = Number((share * 100).toPrecision(10));
	return `${p < 0 ? '−' : '+'}${Math.abs(p)} %`;
};
const signed = (v: number) => (v < 0 ? `−${exact(-v, 'number')}` : `+${exact(v, 'number')}`);

/** `+5 %`, `+12,000`, `= 3`, `2 months later`. */
export function operationWords(step: AdjustmentStepDefinition, { words }: Calendar): string {
	switch (step.operation) {
		case 'multiply':
			return percent(step.value - 1);
		case 'add':
			return signed(step.value);
		case 'set':
			return `= ${exact(step.value, 'number')}`;
		case 'shift': {
			const n = Math.abs(step.periods);
			return `${counted(n, words.one, words.many)} ${step.periods < 0 ? 'earlier' : 'later'}`;
		}
	}
}

/** Lines, members and months of a step. */
export function scopeWords(
	step: AdjustmentStepDefinition,
	adjustables: readonly Adjustable[],
	calendar: Calendar
): string {
	const of = (block: string) => adjustables.find((a) => a.block === block);
	const lines = step.lines.map((l) => of(l.block)?.lines.find((x) => x.code === l.line)?.name ?? l.line);
	const dimensions = step.lines.flatMap((l) => of(l.block)?.dimensions ?? []);
	const members = Object.entries(step.where).map(
		([d, m]) => dimensions.find((x) => x.code === d)?.members.find((x) => x.code === m)?.name ?? m
	);
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
