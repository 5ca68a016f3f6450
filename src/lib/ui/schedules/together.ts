/** Changes of many cells of a schedule at once: dates that move, amounts that rise. */
import { fromIsoDate, toIsoDate } from '../../core/calendar/dates';
import { edate } from '../../core/functions/dates';
import type { NumberFormat } from '../../core/company/schema';
import type { Entered } from '../grid/entered';

export type Together =
	| { kind: 'months'; by: number }
	| { kind: 'days'; by: number }
	| { kind: 'percent'; share: number }
	| { kind: 'add'; amount: number }
	| { kind: 'set'; value: Entered };

/** What cells hold that can be changed together. */
export type Held = 'date' | 'figure';

/** What is typed becomes, to cents where it is money; undefined where there is nothing to change. */
export function changedBy(change: Together, typed: Entered, format: NumberFormat): Entered | undefined {
	if (change.kind === 'set') return change.value;
	if (change.kind === 'months' || change.kind === 'days') {
		const day = typeof typed === 'string' ? fromIsoDate(typed) : null;
		if (day === null) return undefined;
		return toIsoDate(change.kind === 'days' ? day + change.by : edate(day, change.by));
	}
	if (typeof typed !== 'number') return undefined;
	const next = change.kind === 'percent' ? typed * (1 + change.share) : typed + change.amount;
	return format === 'money' ? Math.round(next * 100) / 100 : Number(next.toPrecision(12));
}
