/** A calculated scenario: what all that shows, explains or compares figures reads. */
import type { Period } from '../calendar/calendar';
import type { Calculation } from '../engine/calculation';
import type { Cell } from '../engine/values';
import type { Expr } from '../formula/ast';
import type { Origin } from '../blocks/accounts/schema';
import type { ScenarioModel } from '../blocks/driver-model/schema';
import type { Scenario } from './schema';
import type { AdjustedInputs } from './adjusted-inputs';
import type { Structure } from '../company/structure';

/** A calculated scenario. */
export interface Plan {
	structure: Structure;
	scenario: Scenario;
	calculation: Calculation;
	models: ReadonlyMap<string, ScenarioModel>;
	/** First open period (ordinal). */
	open: Period;
	/** Typed inputs, under the scenario's adjustments. */
	inputs: AdjustedInputs;
	origin(account: string, department: string): Origin;
	/** What the basis gives, without a typed value over it. */
	basisExpr(account: string, department: string): Expr | null;
	/** What the basis gives in an open period, typed over or not; null where there is none. */
	basisCell(account: string, department: string, period: Period): Cell;
	/** What was typed for an account in a department, by period. */
	typedAt(account: string, department: string): (period: Period) => Cell;
	/** Which model lines post to an account in a department, with their rows. */
	postings(account: string, department: string): { model: string; line: string; rows: number[] }[];
}
