/** What a request says against what is expected. */
import type { z } from 'zod';
import { Refusal } from './refusal';

/** Of thousands of mistakes the first ones are told. */
const MOST_TOLD = 50;

/**
 * A value as a schema has it.
 * @throws Refusal 400 with each mistake at its place
 */
export function check<T>(value: unknown, schema: z.ZodType<T>): T {
	const parsed = schema.safeParse(value);
	if (parsed.success) return parsed.data;
	throw new Refusal(
		400,
		'The request is not as expected.',
		parsed.error.issues
			.slice(0, MOST_TOLD)
			.map((i) => ({ message: i.message.slice(0, 300), column: i.path.join('.').slice(0, 200) }))
	);
}
