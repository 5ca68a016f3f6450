/** One thing that is wrong, and where. */
export interface Fault {
	message: string;
	file?: string;
	/** 1 is the heading's row, as a spreadsheet counts. */
	row?: number;
	column?: string;
	/** Place in a formula. */
	span?: { from: number; to: number };
}

/** Something that cannot be done as asked: an HTTP status, a sentence for the person, and the places. Nothing has changed. */
export class Refusal extends Error {
	constructor(
		readonly status: 400 | 401 | 403 | 404 | 409 | 413 | 422 | 429 | 503 | 507,
		message: string,
		readonly faults: Fault[] = [],
		/** What the client needs to go on, e.g. the cells that differ. */
		readonly data: unknown = undefined
	) {
		super(message);
	}
}

/** What the database or the disk says when it is at its end, in words; null for any other error. */
export function refusalOf(e: unknown): Refusal | null {
	if (e instanceof Refusal) return e;
	const code = String((e as { code?: unknown })?.code ?? '');
	if (code === 'SQLITE_FULL' || code === 'ENOSPC')
		return new Refusal(
			507,
			'The disk of the server is full, so nothing was saved. Tell an administrator; once there is room, save again.'
		);
	if (code.startsWith('SQLITE_BUSY') || code.startsWith('SQLITE_LOCKED'))
		return new Refusal(503, 'The database is being written by another process. Try again in a moment.');
	return null;
}

export const notFound = (what: string) => new Refusal(404, `${what} does not exist.`);
