/** Figures that are typed where something comes to be posted. */
export interface Typed {
	scenario: string;
	account: string;
	department: string;
	/** Of both, in words. */
	name: string;
	cells: number;
	sum: number;
}
export type Decision = 'keep' | 'remove';

/** The list that came with a refusal; null where it came with something else. */
export const typedIn = (data: unknown): Typed[] | null =>
	typeof data === 'object' && data !== null && 'typed' in data ? (data.typed as Typed[]) : null;
