/** What a company holds, subject by subject. */

/** What is held under a name, and what reading it gives. */
export interface Kept<T> {
	readonly name: string;
	read(...sources: never[]): T;
}

/** What of the company has been read so far, or is held. */
export interface Holding {
	/** @throws Error for a subject that comes later in the list */
	of<T>(subject: Kept<T>): T;
}

/** What a list of subjects or parts holds, by name. */
export type Held<L extends readonly Kept<unknown>[]> = {
	-readonly [S in L[number] as S['name']]: ReturnType<S['read']>;
};
