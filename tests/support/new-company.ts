/** A company as it is set up on the first page, for tests of what comes after. */
import type { Knex } from 'knex';
import { expect } from 'vitest';
import { readCompany, readStored, writeCompany } from '../../src/lib/server/company/subjects';
import { foundCompany, Founding } from '../../src/lib/server/founding/found';
import { check } from '../../src/lib/server/platform/check';
import type { User } from '../../src/lib/server/platform/auth/sessions';

/** Sets it up in an empty database; its analyst is Ada Lind. @param change answers that differ */
export async function newCompany(db: Knex, change: object = {}): Promise<User> {
	const founding = check(
		{
			person: { name: 'Ada Lind', email: 'ada@lind.example', password: 'long enough' },
			company: {
				name: 'Lind',
				currency: 'CHF',
				calendar: { kind: 'months', fiscalStart: 1, dayCount: 'actual' }
			},
			chart: 'services',
			departments: 'Advisory\nOperations',
			year: 2027,
			...change
		},
		Founding
	);
	return (await foundCompany(db, founding)).analyst;
}

/** A file on a cell of its first budget, as the journal names it. */
export async function attach(db: Knex, subject: string): Promise<void> {
	const { code } = await db('scenario').first('code');
	await db('attachment').insert({
		scenario: code,
		subject,
		at: '2026-11-16T09:00:00.000Z',
		user: 'ada@lind.example',
		name: 'offer.pdf',
		size: 1,
		content: Buffer.from('x')
	});
}

/** Somebody who plans its departments called Support. */
export const addContributor = (db: Knex) =>
	db('user').insert({
		email: 'ben@lind.example',
		name: 'Ben Roth',
		role: 'contributor',
		departments: 'support',
		position: 1
	});

/** The folder of what is stored, which gives itself again when it is loaded. */
export async function sameFolder(db: Knex): Promise<Map<string, string>> {
	const files = writeCompany(await readStored(db));
	expect(writeCompany(readCompany(files))).toEqual(files);
	return files;
}
