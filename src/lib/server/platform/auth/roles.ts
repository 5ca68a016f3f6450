/** What people are, and to whom a thing is shown. */
import { z } from 'zod';

export const Role = z.enum(['analyst', 'contributor', 'reviewer', 'viewer']);
export type Role = z.infer<typeof Role>;

/** Everybody, those who answer for all of the company, or its owner and the people named. */
export const VISIBILITIES = ['all', 'finance', 'people'] as const;

/** Who sees a scenario. */
export interface Shown {
	visibility: (typeof VISIBILITIES)[number];
	/** E-mails of the people named. */
	people: string[];
	/** E-mail; empty when nobody has made it here. */
	owner: string;
}
