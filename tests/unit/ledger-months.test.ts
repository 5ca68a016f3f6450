/** What months of the ledger come to is what their entries come to, whatever was loaded, replaced and taken out. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { keepLedgerMonths, readLedgerMonths } from '../../src/lib/server/company/ledger-months';
import { deleteEntries, insertEntries } from '../../src/lib/server/company/subjects/entries';
import { openDatabase } from '../../src/lib/server/platform/db/connect';

const entry = fc.record({
	ledgerAccount: fc.constantFrom('4000', '6000', '6010'),
	department: fc.constantFrom('a', 'b'),
	amount: fc.integer({ min: -1e9, max: 1e9 }).map((cents) => cents / 100),
	tags: fc.constantFrom<Record<string, string>>(
		{},
		{ product: 'kayak' },
		{ product: 'kayak', region: 'lakes' }
	)
});
type Drawn = typeof entry extends fc.Arbitrary<infer T> ? T : never;
const month = fc.record({
	period: fc.integer({ min: 24_000, max: 24_003 }),
	// Nothing: the month is taken out.
	entries: fc.option(fc.array(entry, { maxLength: 12 }))
});
const nameOf = (period: number, e: { ledgerAccount: string; department: string; tags: unknown }) =>
	[period, e.ledgerAccount, e.department, JSON.stringify(e.tags)].join(' ');

it('holds after any loading', async () => {
	await fc.assert(
		fc.asyncProperty(fc.array(month, { maxLength: 6 }), async (steps) => {
			const db = await openDatabase(':memory:');
			const held = new Map<number, Drawn[]>();
			for (const { period, entries } of steps) {
				await db.transaction(async (trx) => {
					expect(await deleteEntries(trx, period)).toBe(held.get(period)?.length ?? 0);
					const rest = { period, date: '2000-01-01', document: '', party: '', description: '' };
					await insertEntries(
						trx,
						(entries ?? []).map((e) => ({ ...e, ...rest })),
						['product', 'region']
					);
				});
				held.set(period, entries ?? []);
			}
			const expected = new Map<string, number>();
			for (const [period, entries] of held)
				for (const e of entries) {
					const tags = Object.entries(e.tags).map(([d, m]) => `${d}=${m}`);
					const name = nameOf(period, { ...e, tags: tags.join(';') });
					expected.set(name, (expected.get(name) ?? 0) + Math.round(e.amount * 100));
				}
			const { keys, months } = await readLedgerMonths(db);
			const found = new Map<string, number>();
			for (const { period, keys: ids, amounts } of months)
				ids.forEach((id, i) => found.set(nameOf(period, keys.get(id)!), amounts[i]));
			expect([...found.keys()].sort()).toEqual([...expected.keys()].sort());
			for (const [name, cents] of expected) expect(found.get(name)).toBeCloseTo(cents / 100, 7);
			await db.destroy();
		}),
		{ numRuns: 25 }
	);
});
it('keeps very many tags, and adds a month to them', async () => {
	const db = await openDatabase(':memory:');
	const entries = (period: number) =>
		Array.from({ length: 150_000 }, (_, n) => ({
			period,
			ledgerAccount: '4000',
			department: 'a',
			tags: `document=${n}`,
			amount: n
		}));
	for (const period of [24_000, 24_001])
		await db.transaction((trx) => keepLedgerMonths(trx, entries(period)));
	const { keys, months } = await readLedgerMonths(db);
	expect(keys.size).toBe(150_000);
	expect(months.map((m) => m.amounts[149_999])).toEqual([149_999, 149_999]);
	await db.destroy();
});
