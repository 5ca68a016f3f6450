/** A scenario's data. */
import type { Period } from '../calendar/calendar';
import type { CurrencyRates, RateKind } from '../currency/rates';
import type { AnyCalendarSpec } from '../calendar/spec';
import type { OverTime } from '../engine/spec';
import type { BlockData } from '../blocks/kinds';
import type { Matrix } from '../engine/values';
import type { Scenario } from './schema';
import type { Adjustment } from '../inputs/adjust';
import type { Series } from '../inputs/series';

/** Lines of a calculated scenario that another one reads. */
export interface OtherLines {
	blocks: Map<
		string,
		{
			calendar: AnyCalendarSpec;
			/** Period ordinal of index 0. */
			first: Period;
			dimensions: readonly string[];
			rows: readonly (readonly string[])[];
			lines: Map<
				string,
				{
					additive: boolean;
					overTime: OverTime;
					matrix: Matrix;
					/** At which of its rates amounts of departments are added up; null where they are in one currency. */
					units: RateKind | null;
				}
			>;
		}
	>;
	rates: readonly CurrencyRates[];
}

/** What its blocks have by their kinds, and what all of them share. */
export interface ScenarioData extends BlockData {
	scenario: Scenario;
	series: readonly Series[];
	/** Exchange rates that it is translated by, in the company's periods. */
	rates?: readonly CurrencyRates[];
	/** What lines of models hold in closed months by the ledger. */
	derived?: readonly Series[];
	/** Applied in their order to inputs, before formulas. */
	adjustments?: readonly Adjustment[];
	/** Codes of the blocks that are calculated, where others are of no concern; all when absent. */
	part?: readonly string[];
	/** What formulas read from other scenarios. */
	others?: ReadonlyMap<string, OtherLines>;
}
