/** What an account's plan comes from, in words. */
import type { Origin } from '../../core/inputs/basis';

/** Names by code. */
export interface Names {
	account: (code: string) => string;
	model: (code: string) => string;
	/** A driver model's line (`model.line`). */
	driver: (code: string) => string;
}
const percent = (v: number) => `${v < 0 ? '−' : '+'}${Number(Math.abs(v * 100).toPrecision(6))} %`;

/** Empty where figures have no origin of their own: totals. */
export function basisWords(origin: Origin | null, names: Names): string {
	if (!origin) return '';
	if (origin.kind === 'posted') return origin.models.map(names.model).join(', ');
	const { basis } = origin;
	switch (basis.kind) {
		case 'typed':
			return 'typed';
		case 'last-year':
			return `last year ${percent(basis.percent)}`;
		case 'percent-of':
			return `${Number((basis.percent * 100).toPrecision(6))} % of ${names.account(basis.account)}`;
		case 'run-rate':
			return `run-rate, last ${basis.months}`;
		case 'driver':
			return `${names.driver(basis.driver)} × ${Number(basis.rate.toPrecision(8))}`;
	}
}

/** Whether something stands there without being typed. */
export const hasBasis = (origin: Origin | null) =>
	origin !== null && (origin.kind === 'posted' || origin.basis.kind !== 'typed');
