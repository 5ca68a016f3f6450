/** A basis in a few words, as lists of accounts and History say it. */
import type { Basis } from './basis';

/** Names by code. */
export interface BasisNames {
	account: (code: string) => string;
	/** A driver model's line (`model.line`). */
	driver: (code: string) => string;
}

const percent = (v: number) => `${v < 0 ? '−' : '+'}${Number(Math.abs(v * 100).toPrecision(6))} %`;

export function basisWords(basis: Basis, names: BasisNames): string {
	switch (basis.kind) {
		case 'typed':
			return 'typed';
		case 'last-year':
			return basis.percent === 0 ? 'last year' : `last year ${percent(basis.percent)}`;
		case 'percent-of':
			return `${Number((basis.percent * 100).toPrecision(6))} % of ${names.account(basis.account)}`;
		case 'run-rate':
			return `run-rate, last ${basis.months}`;
		case 'driver':
			return `${names.driver(basis.driver)} × ${Number(basis.rate.toPrecision(8))}`;
	}
}
