/** A calculated scenario: what all that shows, explains or compares figures reads. */
import type { AccountsBlock } from '../blocks/accounts/accounts';
import type { Block, Calculated } from '../blocks/block';
import type { ScenarioModel } from '../blocks/driver-model/schema';
import type { ScenarioSchedule } from '../blocks/schedule/schema';
import type { Period } from '../calendar/calendar';
import type { CurrencyRates } from '../currency/rates';
import type { Exchange } from '../currency/exchange';
import type { Structure } from '../company/structure';
import type { AdjustedInputs } from './adjusted-inputs';
import type { Scenario } from './schema';

export interface Plan extends Calculated {
	structure: Structure;
	/** Its exchange rates. */
	exchange: Exchange;
	rates: readonly CurrencyRates[];
	/** The first period of the ledger: what stands there is an opening balance. */
	ledgerFirst: Period;
	scenario: Scenario;
	/** All of its blocks by code, planned accounts among them. */
	blocks: ReadonlyMap<string, Block>;
	accounts: AccountsBlock;
	models: ReadonlyMap<string, ScenarioModel>;
	schedules: ReadonlyMap<string, ScenarioSchedule>;
	/** Typed inputs, under the scenario's adjustments. */
	inputs: AdjustedInputs;
}
