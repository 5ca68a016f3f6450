/** Plain data with its periods in the calendar's own writing, and back: what leaves the program counts nothing. */
import type { Calendar } from './calendar';

type WrittenPeriod<T> = T extends number ? string : T;
/** The same data, in which fields of these names are texts where they were periods. */
export type Written<T, Name extends string> = T extends readonly (infer E)[]
	? Written<E, Name>[]
	: T extends object
		? { [K in keyof T]: K extends Name ? WrittenPeriod<Written<T[K], Name>> : Written<T[K], Name> }
		: T;

/** A period where it is a number: other things may bear the same name. */
type Turn = (value: unknown) => unknown;

function turned(value: unknown, names: ReadonlySet<string>, turn: Turn, left: readonly string[]): unknown {
	if (Array.isArray(value)) {
		// Figures are many, and hold no period.
		const holds = value.some((v) => typeof v === 'object' && v !== null);
		return holds ? value.map((v) => turned(v, names, turn, left)) : value;
	}
	if (typeof value !== 'object' || value === null) return value;
	const result: Record<string, unknown> = {};
	for (const [name, v] of Object.entries(value))
		result[name] = left.includes(name) ? v : turned(names.has(name) ? turn(v) : v, names, turn, left);
	return result;
}

/**
 * Numbers in fields of these names, at any depth, as the calendar writes its periods.
 * @param left fields that stay as they are with all in them: what is named by people’s codes may be named as a period is
 */
export function inWriting<T, Name extends string>(
	calendar: Pick<Calendar, 'key'>,
	value: T,
	names: readonly Name[],
	left: readonly string[] = []
): Written<T, Name> {
	const turn: Turn = (v) => (typeof v === 'number' ? calendar.key(v) : v);
	return turned(value, new Set(names), turn, left) as Written<T, Name>;
}

/**
 * What `inWriting` has written. Texts that are no period of this calendar stay as they are: a name may stand for
 * something else deeper down.
 */
export function fromWriting<T, Name extends string>(
	calendar: Calendar,
	written: Written<T, Name>,
	names: readonly Name[]
): T {
	const turn: Turn = (v) => (typeof v === 'string' ? (calendar.parse(v) ?? v) : v);
	return turned(written, new Set(names), turn, []) as T;
}
