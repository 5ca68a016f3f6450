/** A whole company from files into an empty database: all of it, or nothing and every reason why not. */
import type { Knex } from 'knex';
import { Refusal } from '../platform/refusal';
import { brokenScenarios } from '../scenarios/soundness';
import { type CompanyData, storeCompany } from '../company/subjects';

/** @throws Refusal 409 when the database holds a company already, 422 for scenarios that cannot be calculated */
export async function loadCompany(db: Knex, data: CompanyData): Promise<void> {
	await db.transaction(async (trx) => {
		await storeCompany(trx, data);
		const broken = await brokenScenarios(trx);
		if (broken.length)
			throw new Refusal(
				422,
				'The company was not loaded; these scenarios cannot be calculated.',
				broken.map(({ scenario, fault }) => ({ ...fault, file: `scenarios/${scenario}` }))
			);
	});
}
