/** A new company from a folder that was saved elsewhere, as a zip. */
import type { Knex } from 'knex';
import { z } from 'zod';
import { readCompany, type CompanyData } from '../company/subjects';
import type { Assumption } from '../company/reading';
import type { UserRecord } from '../company/subjects/users';
import { hashPassword } from '../platform/auth/passwords';
import { Refusal } from '../platform/refusal';
import { unpacked } from '../transfer/archive';
import { loadCompany } from '../transfer/load';
import { Founding } from './found';

export const FromFolder = z.strictObject({ person: Founding.shape.person });

/**
 * Loads the company into an empty database, and lets who sets it up sign in: as the analyst with that e-mail in the folder,
 * or as another one.
 * @returns whom to sign in, and what was assumed where an earlier version wrote the folder
 * @throws Refusal 409 when there is a company already, 422 with every fault by file and row
 */
export async function foundFromFolder(
	db: Knex,
	file: { name: string; bytes: Uint8Array },
	{ person }: z.output<typeof FromFolder>
): Promise<{ email: string; assumed: Assumption[] }> {
	const assumed: Assumption[] = [];
	const data = readCompany(unpacked(file.name, file.bytes), assumed);
	const password_hash = await hashPassword(person.password);
	await db.transaction(async (trx) => {
		await loadCompany(trx, { ...data, users: withAnalyst(data, person) });
		await trx('user').where({ email: person.email }).update({ password_hash });
	});
	return { email: person.email, assumed };
}

function withAnalyst({ users, departments }: CompanyData, { email, name }: Founding['person']): UserRecord[] {
	const known = users.find((u) => u.email === email);
	const roots = departments.filter((d) => d.parent === null).map((d) => d.code);
	if (!known) return [...users, { email, name, role: 'analyst', departments: roots, pay: true }];
	if (known.role === 'analyst' && !known.disabled) return users;
	throw new Refusal(422, 'The company was not loaded.', [
		{
			column: 'person.email',
			message: `is ${known.name} in this folder, ${known.disabled ? 'who is disabled' : `a ${known.role}`}; who sets the company up is an analyst. Give another e-mail`
		}
	]);
}
