/** A scenario's data, and the calculated plan that comes of it. */
import type { Period } from '../calendar/calendar';
import type { Calculation } from '../engine/calculation';
import type { Cell, Matrix } from '../engine/values';
import type { Expr } from '../formula/ast';
import type { Basis, ModelDefinition, Scenario, Series } from '../model/schema';
import type { Adjustment } from './adjust';
import type { AdjustedInputs } from './adjust-blocks';
import type { Structure } from './structure';

/** A model as used in one scenario: its definition and the combinations of members that hold data. */
export interface ScenarioModel {
	definition: ModelDefinition;
	rows: readonly (readonly string[])[];
}

export interface BasisEntry {
	account: string;
	department: string;
	basis: Basis;
}

/** Values of accounts by leaf department before the plan opens: actuals, and what the followed scenario says after them. */
export interface History {
	/** Period ordinal of index 0. */
	first: Period;
	accounts: ReadonlyMap<string, Matrix>;
}

/** Lines of a calculated scenario that another one reads. */
export interface OtherLines {
	/** Period ordinal of index 0. */
	first: Period;
	blocks: Map<
		string,
		{
			dimensions: readonly string[];
			rows: readonly (readonly string[])[];
			lines: Map<string, { additive: boolean; matrix: Matrix }>;
		}
	>;
}

export interface ScenarioData {
	scenario: Scenario;
	models: readonly ScenarioModel[];
	series: readonly Series[];
	bases: readonly BasisEntry[];
	/** What lines of models hold in closed months by the ledger. */
	derived?: readonly Series[];
	history: History;
	/** Applied in their order to inputs, before formulas. */
	adjustments?: readonly Adjustment[];
	/** What formulas read from other scenarios. */
	others?: ReadonlyMap<string, OtherLines>;
}

/** Where an account in a department has its plan from; a posting wins over a chosen basis. */
export type Origin = { kind: 'posted'; models: string[] } | { kind: 'basis'; basis: Basis };

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
