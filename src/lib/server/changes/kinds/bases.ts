/** How an account of a department is planned. */
import { basisWords } from '../../../core/inputs/basis-words';
import { saveBasis } from '../../accounts/department-plan';
import { fromJournal, heldIn } from '../../company/journal';
import { readBasis, storeBasis } from '../../company/subjects/scenario/bases';
import { Basis } from '../../platform/schemas';
import { changedSince, type ChangeKind, type Names } from './kind';

function inWords(text: string, names: Names): string {
	const basis = heldIn(text, Basis);
	if (!basis) return text;
	return basisWords(basis, {
		account: names.account,
		driver: (code) => {
			const [model, line] = code.split('.');
			return names.line(model, line);
		}
	});
}

export const BASES: ChangeKind<'basis'> = {
	what: ['basis'],
	words({ about: { account, department }, before, after }, names) {
		return {
			place: `${names.account(account)}, ${names.department(department)}`,
			before: inWords(before, names),
			after: inWords(after, names)
		};
	},
	async undo(within, { scenario }, entries) {
		for (const { about, before, after } of entries) {
			const { account, department } = about;
			if (JSON.stringify(await readBasis(within.db, scenario, account, department)) !== after)
				throw changedSince('The basis');
			await saveBasis(within, scenario, department, account, fromJournal(before, Basis));
		}
	},
	async rewind(trx, { scenario }, entries) {
		for (const { about, before } of entries) {
			const { account, department } = about;
			await storeBasis(trx, scenario, { account, department, basis: fromJournal(before, Basis) });
		}
	}
};
