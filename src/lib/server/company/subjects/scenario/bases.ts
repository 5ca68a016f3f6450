/** How accounts of departments are planned. */
import { z } from 'zod';
import type { Knex } from 'knex';
import { basisFaults } from '../../../../core/blocks/accounts/check-basis';
import type { Basis, BasisEntry } from '../../../../core/inputs/basis';
import { copyRows, insertRows } from '../../../platform/db/rows';
import { tableForm } from '../../form';
import type { ScenarioPart } from '../../subject';
import * as cell from '../../table';
import { structureOf } from '../dimensions';
import { FORMS } from './forms';
import * as stored from '../../../platform/db/stored';

const FORM = tableForm({
	path: 'scenarios/<code>/bases.csv',
	columns: {
		account: cell.required,
		department: cell.required,
		basis: cell.oneOf(['typed', 'last-year', 'percent-of', 'run-rate', 'driver']),
		percent: cell.orNull(cell.decimal),
		of_account: cell.optional,
		months: cell.orNull(cell.integer),
		driver: cell.optional,
		rate: cell.orNull(cell.decimal)
	},
	later: { driver: 'no basis rests on a driver model', rate: 'no basis has a rate' },
	unique: ['account', 'department']
});
const BasisRow = z.object({
	account: stored.text,
	department: stored.text,
	kind: z.enum(['typed', 'last-year', 'percent-of', 'run-rate', 'driver']),
	percent: stored.amount.nullable(),
	of_account: stored.textOrNone,
	months: stored.wholeOrNone,
	driver: stored.textOrNone,
	rate: stored.amount.nullable()
});
/** What a basis has beside its kind, in the folder as in the database. */
const SAYS = ['percent', 'of_account', 'months', 'driver', 'rate'] as const;

export const BASES: ScenarioPart<'bases', BasisEntry[]> = {
	name: 'bases',
	files: [FORM],
	travels: 'always',
	read(folder, at) {
		const file = `${at.folder}/bases.csv`;
		const definitions = at.of(FORMS);
		return folder.table(FORM, file).map((r) => {
			const expect = (good: boolean, column: string, message: string) =>
				folder.expect(good, file, r.rowNumber, column, message);
			let basis: Basis = { kind: 'typed' };
			if (r.basis === 'last-year' || r.basis === 'percent-of')
				expect(r.percent !== null, 'percent', 'a share such as 0.03 was expected');
			if (r.basis === 'last-year') basis = { kind: 'last-year', percent: r.percent ?? 0 };
			if (r.basis === 'percent-of')
				basis = { kind: 'percent-of', percent: r.percent ?? 0, account: r.of_account ?? '' };
			if (r.basis === 'run-rate') {
				expect(
					r.months !== null && r.months >= 1 && r.months <= 36,
					'months',
					`a number of ${folder.calendar.words.many} from 1 to 36 was expected`
				);
				basis = { kind: 'run-rate', months: r.months ?? 1 };
			}
			if (r.basis === 'driver') {
				expect(r.rate !== null, 'rate', 'a number was expected');
				basis = { kind: 'driver', driver: r.driver ?? '', rate: r.rate ?? 0 };
			}
			const entry = { account: r.account, department: r.department, basis };
			for (const { column, message } of basisFaults(entry, structureOf(folder), definitions))
				folder.faults.push({ file, row: r.rowNumber, column, message });
			return entry;
		});
	},
	write(bases, at, folder) {
		if (!bases.length) return;
		const rows = bases.map((entry) => {
			const { kind, ...row } = basisToRow('', entry);
			return { ...row, basis: kind };
		});
		folder.table(FORM, rows, `${at.folder}/bases.csv`);
	},
	store: storeBases,
	load: readBases,
	copy: (trx, from, to) => copyRows(trx, 'basis', ['account', 'department', 'kind', ...SAYS], from, to)
};

/** By account and department. */
export async function readBases(db: Knex, scenario: string): Promise<BasisEntry[]> {
	const rows = db('basis').where({ scenario }).orderBy(['account', 'department']);
	return (await stored.rows(BasisRow, rows)).map(basisFromRow);
}

/** How one account of a department is planned: typed, where nothing else is said. */
export async function readBasis(
	db: Knex,
	scenario: string,
	account: string,
	department: string
): Promise<Basis> {
	const row = await stored.row(BasisRow, db('basis').where({ scenario, account, department }).first());
	return row ? basisFromRow(row).basis : { kind: 'typed' };
}

function basisFromRow(r: z.output<typeof BasisRow>): BasisEntry {
	const at = { account: r.account, department: r.department };
	switch (r.kind) {
		case 'typed':
			return { ...at, basis: { kind: 'typed' } };
		case 'last-year':
			return { ...at, basis: { kind: 'last-year', percent: r.percent! } };
		case 'percent-of':
			return { ...at, basis: { kind: 'percent-of', percent: r.percent!, account: r.of_account! } };
		case 'run-rate':
			return { ...at, basis: { kind: 'run-rate', months: r.months! } };
		case 'driver':
			return { ...at, basis: { kind: 'driver', driver: r.driver!, rate: r.rate! } };
	}
}
/** Keeps how accounts are planned in a scenario that says nothing of it yet. */
export async function storeBases(
	trx: Knex.Transaction,
	scenario: string,
	entries: readonly BasisEntry[]
): Promise<void> {
	await insertRows(
		trx,
		'basis',
		entries.map((b) => basisToRow(scenario, b))
	);
}

/** Keeps how an account of a department is planned, in place of what was said before. */
export async function storeBasis(trx: Knex.Transaction, scenario: string, entry: BasisEntry): Promise<void> {
	const { account, department, basis } = entry;
	await trx('basis').where({ scenario, account, department }).delete();
	if (basis.kind !== 'typed') await insertRows(trx, 'basis', [basisToRow(scenario, entry)]);
}

function basisToRow(scenario: string, { account, department, basis }: BasisEntry) {
	return {
		scenario,
		account,
		department,
		kind: basis.kind,
		percent: 'percent' in basis ? basis.percent : null,
		of_account: basis.kind === 'percent-of' ? basis.account : null,
		months: basis.kind === 'run-rate' ? basis.months : null,
		driver: basis.kind === 'driver' ? basis.driver : null,
		rate: basis.kind === 'driver' ? basis.rate : null
	};
}
