/**
 * What comes out of the database, as what it is. A row is read by its shape, which names the columns it needs; what
 * stands there is not believed to be so because somebody wrote it once.
 */
import { z } from 'zod';

/** The columns of a row, each as it is stored. */
export const text = z.string();
export const textOrNone = z.string().nullable();
export const whole = z.int();
export const wholeOrNone = z.int().nullable();
export const amount = z.number();
/** SQLite has no booleans. */
export const flag = z.literal([0, 1]).transform((v) => v === 1);
export const bytes = z.instanceof(Uint8Array);
const parsed = z.string().transform((held, context): unknown => {
	try {
		return JSON.parse(held);
	} catch {
		context.addIssue({ code: 'custom', message: 'is no JSON' });
		return z.NEVER;
	}
});
/** A column that holds JSON. */
export const json = <S extends z.ZodType>(shape: S) => parsed.pipe(shape);
/** The same, handed on with its keys in their order: for what is known by its text. */
export const jsonAsItStands = <T>(shape: z.ZodType<T>) =>
	parsed.pipe(z.custom<T>((held) => shape.safeParse(held).success, 'has another shape'));

/** What a query answers that has one column of text. */
export const texts = async (query: PromiseLike<unknown>): Promise<string[]> =>
	inShape(z.array(text), await query);

/** All rows of a query. @throws Error for a row that is something else */
export const rows = async <S extends z.ZodType>(
	shape: S,
	query: PromiseLike<unknown>
): Promise<z.output<S>[]> => inShape(z.array(shape), await query);

/** The first row of a query, undefined when there is none. @throws Error for one that is something else */
export const row = async <S extends z.ZodType>(
	shape: S,
	query: PromiseLike<unknown>
): Promise<z.output<S> | undefined> => inShape(shape.optional(), await query);

/** The row of a query that always has one, such as a count. @throws Error when there is none */
export const one = async <S extends z.ZodType>(shape: S, query: PromiseLike<unknown>): Promise<z.output<S>> =>
	inShape(shape, await query);

/** What a column of a table with very many rows holds. */
interface Plain {
	text: string;
	'text or none': string | null;
	number: number;
	bytes: Uint8Array;
}
const FITS: Record<keyof Plain, (v: unknown) => boolean> = {
	text: (v) => typeof v === 'string',
	'text or none': (v) => v === null || typeof v === 'string',
	number: (v) => typeof v === 'number',
	bytes: (v) => v instanceof Uint8Array
};
/**
 * All rows of a query that has very many: what stands in each of these columns is looked at, the rows themselves are
 * handed on. @throws Error for a row that is something else
 */
export async function many<C extends Record<string, keyof Plain>>(
	columns: C,
	query: PromiseLike<unknown>
): Promise<{ [K in keyof C]: Plain[C[K]] }[]> {
	const found = (await query) as Record<string, unknown>[];
	for (const [name, kind] of Object.entries(columns)) {
		const fits = FITS[kind];
		const at = found.findIndex((r) => !fits(r[name]));
		if (at >= 0) throw unexpected(`${at}.${name}`, `${kind} was expected`);
	}
	return found as { [K in keyof C]: Plain[C[K]] }[];
}

/** The last place in a list, none while it is empty: `max({ position: 'position' })`. */
export const lastPlace = z.object({ position: wholeOrNone });
/** How often something is there: `count({ n: '*' })`. */
export const counted = z.object({ n: whole });

/** What has been read already, as what it is. @throws Error for something else */
export function inShape<S extends z.ZodType>(shape: S, found: unknown): z.output<S> {
	const read = shape.safeParse(found);
	if (read.success) return read.data;
	const { path, message } = read.error.issues[0];
	throw unexpected(path.join('.') || 'a row', message);
}

const unexpected = (place: string, what: string) =>
	new Error(`The database holds something else than expected at ${place}: ${what}`);
