/** A calculated scenario: what all that shows, explains or compares figures reads. */
import type { AccountsBlock } from '../blocks/accounts/accounts';
import type { Block, Calculated } from '../blocks/block';
import type { ScenarioModel } from '../blocks/driver-model/schema';
import type { Structure } from '../company/structure';
import type { AdjustedInputs } from './adjusted-inputs';
import type { Scenario } from './schema';

export interface Plan extends Calculated {
	structure: Structure;
	scenario: Scenario;
	/** All of its blocks by code, planned accounts among them. */
	blocks: ReadonlyMap<string, Block>;
	accounts: AccountsBlock;
	models: ReadonlyMap<string, ScenarioModel>;
	/** Typed inputs, under the scenario's adjustments. */
	inputs: AdjustedInputs;
}
