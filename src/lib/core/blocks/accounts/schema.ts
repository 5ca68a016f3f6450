/** Planned accounts as plain typed data. */
import type { Period } from '../../calendar/calendar';
import type { Matrix } from '../../engine/values';

/** Values of accounts by leaf department before the plan opens: actuals, and what the followed scenario says after them. */
export interface History {
	/** Period ordinal of index 0. */
	first: Period;
	accounts: ReadonlyMap<string, Matrix>;
}
