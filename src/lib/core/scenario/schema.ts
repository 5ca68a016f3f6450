/** Scenarios as plain typed data. */
import { z } from 'zod';
import type { LaterYears } from '../calendar/spec';

/**
 * What a copy begins with: all of its figures; what is worked out, with nothing typed; or each account as the year before,
 * grown by so much a year, without driver models.
 */
export const Beginning = z.discriminatedUnion('with', [
	z.strictObject({ with: z.literal('figures') }),
	z.strictObject({ with: z.literal('nothing typed') }),
	z.strictObject({ with: z.literal('growth'), share: z.number().min(-1).max(10) })
]);
export type Beginning = z.infer<typeof Beginning>;

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
