/** How an account of a department is planned: `basis/account/department`. */
import type { Basis } from '../../../core/inputs/basis';
import { saveBasis } from '../../accounts/department-plan';
import { fromJournal } from '../../company/journal';
import { readBasis, storeBasis } from '../../company/subjects/scenario/bases';
import { Basis as BasisSchema } from '../../platform/schemas';
import { changedSince, heldIn, type ChangeKind, type Names } from './kind';

const share = (x: number) => `${Number((x * 100).toPrecision(6))} %`;

function basisWords(text: string, names: Names): string {
	const basis: Basis | null = heldIn(text, BasisSchema);
	if (!basis) return text;
	switch (basis.kind) {
		case 'typed':
			return 'typed';
		case 'last-year':
			return `last year ${basis.percent < 0 ? '−' : '+'}${share(Math.abs(basis.percent))}`;
		case 'percent-of':
			return `${share(basis.percent)} of ${names.account(basis.account)}`;
		case 'run-rate':
			return `run-rate, last ${basis.months}`;
		case 'driver': {
			const [model, line] = basis.driver.split('.');
			return `${names.line(model, line)} × ${basis.rate}`;
		}
	}
}

export const BASES: ChangeKind = {
	of: (subject) => subject.startsWith('basis/'),
	words({ subject, before, after }, names) {
		const [, account, department] = subject.split('/');
		return {
			place: `${names.account(account)}, ${names.department(department)}`,
			before: basisWords(before, names),
			after: basisWords(after, names)
		};
	},
	async undo(trx, { user, scenario }, entries) {
		for (const { subject, before, after } of entries) {
			const [, account, department] = subject.split('/');
			if (JSON.stringify(await readBasis(trx, scenario, account, department)) !== after)
				throw changedSince('The basis');
			await saveBasis(trx, user, scenario, department, account, fromJournal(before, BasisSchema));
		}
	},
	async rewind(trx, { scenario }, entries) {
		for (const { subject, before } of entries) {
			const [, account, department] = subject.split('/');
			await storeBasis(trx, scenario, { account, department, basis: fromJournal(before, BasisSchema) });
		}
	}
};
