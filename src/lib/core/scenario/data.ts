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

/** Lines as they are calculated, by their blocks. */
export type CalculatedLines = Map<
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

/** Lines of a calculated scenario that another one reads. */
export interface OtherLines {
	blocks: CalculatedLines;
	rates: readonly CurrencyRates[];
}

/** Where only a part of a scenario is calculated, what that reads of all else: nothing that is typed in the part reaches it. */
export interface GivenLines {
	blocks: CalculatedLines;
	/** Accounts that these are made of: what is posted to one of them would reach them. */
	accounts: readonly string[];
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
	/** What those read of the others. */
	given?: GivenLines;
	/** What formulas read from other scenarios. */
	others?: ReadonlyMap<string, OtherLines>;
}
