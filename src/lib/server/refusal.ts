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
		readonly status: 400 | 401 | 403 | 404 | 409 | 413 | 422 | 429 | 503,
		message: string,
		readonly faults: Fault[] = [],
		/** What the client needs to go on, e.g. the cells that differ. */
		readonly data: unknown = undefined
	) {
		super(message);
	}
}

export const notFound = (what: string) => new Refusal(404, `${what} does not exist.`);
