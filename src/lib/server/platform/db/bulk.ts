/** Many rows at once, past the query builder: the one place that talks to the driver itself. */
import type { Knex } from 'knex';

interface Statement {
	run(values: readonly unknown[]): unknown;
}
interface RawConnection {
	prepare(sql: string): Statement;
}

/** Values bound in one statement: more rows a statement are hardly quicker. */
const BOUND = 200;

/** Inserts rows given as arrays in the order of `columns`, inside the transaction; many in one statement. */
export async function insertMany(
	trx: Knex.Transaction,
	table: string,
	columns: readonly string[],
	rows: Iterable<readonly unknown[]>
): Promise<void> {
	// Inside a transaction this hands out the transaction's own connection.
	const connection = (await trx.client.acquireConnection()) as RawConnection;
	const names = columns.map((c) => `"${c}"`).join(', ');
	const row = `(${columns.map(() => '?').join(', ')})`;
	const inserting = (count: number) =>
		connection.prepare(`INSERT INTO "${table}" (${names}) VALUES ${Array(count).fill(row).join(', ')}`);
	const together = Math.max(1, Math.floor(BOUND / columns.length));
	const whole = inserting(together);
	let values: unknown[] = [];
	for (const each of rows) {
		for (const value of each) values.push(value);
		if (values.length < together * columns.length) continue;
		whole.run(values);
		values = [];
	}
	if (values.length) inserting(values.length / columns.length).run(values);
}

/** References between rows are checked when the transaction ends, not row by row. */
export async function deferForeignKeys(trx: Knex.Transaction): Promise<void> {
	await trx.raw('PRAGMA defer_foreign_keys = ON');
}

/** A series' values as stored: doubles or whole numbers, little endian. */
export function toBlob(values: Float64Array | Int32Array): Buffer {
	return Buffer.from(values.buffer, values.byteOffset, values.byteLength);
}

export function fromBlob(blob: Uint8Array): Float64Array {
	// Copied, because the driver's buffer need not be aligned to 8 bytes.
	const values = new Float64Array(blob.byteLength / 8);
	new Uint8Array(values.buffer).set(blob);
	return values;
}

export function wholesFromBlob(blob: Uint8Array): Int32Array {
	const values = new Int32Array(blob.byteLength / 4);
	new Uint8Array(values.buffer).set(blob);
	return values;
}
