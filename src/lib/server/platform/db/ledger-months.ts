/** What months of the ledger come to by ledger account, department and tags, of entries that were loaded before. */
import type { Knex } from 'knex';

/** Fills the tables that keep it. */
export async function sumLedgerMonths(db: Knex): Promise<void> {
	const by = ['ledger_account', 'department', 'tags'];
	await db(db.raw('?? (??, ??, ??)', ['ledger_key', ...by])).insert(
		db('ledger_entry').distinct(by).orderBy(by)
	);
	for (const period of (await db('ledger_entry').distinct('period').pluck('period')) as number[]) {
		const sums = (await db('ledger_entry')
			.join('ledger_key', (on) => by.forEach((c) => void on.on(`ledger_key.${c}`, `ledger_entry.${c}`)))
			.where({ period })
			.groupBy('ledger_key.id')
			.select('ledger_key.id')
			.sum({ amount: 'amount' })) as { id: number; amount: number }[];
		await db('ledger_month').insert({
			period,
			keys: Buffer.from(Int32Array.from(sums, (s) => s.id).buffer),
			amounts: Buffer.from(Float64Array.from(sums, (s) => s.amount).buffer)
		});
	}
}
