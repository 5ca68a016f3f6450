/** Scenarios as plain typed data. */
import { z } from 'zod';
import type { LaterYears } from '../calendar/spec';

export const ScenarioKind = z.enum(['actuals', 'budget', 'forecast', 'what-if', 'long-range', 'target']);
export type ScenarioKind = z.infer<typeof ScenarioKind>;

export interface Scenario {
	code: string;
	name: string;
	kind: ScenarioKind;
	/** First and last period of the plan (period ordinals). */
	first: number;
	last: number;
	/** From which fiscal year on its periods are coarser than months; absent or null: they never are. */
	laterYears?: LaterYears | null;
	/** Last period taken from actuals; null when all of it is plan. */
	actualsThrough: number | null;
	/** The scenario that stands in for open months before this one's first. */
	follows: string | null;
	/** What it was copied from. */
	origin: string | null;
	locked: boolean;
	/** The set of exchange rates that it is translated by; null or absent: that of actuals. */
	rates?: string | null;
	description: string;
}
