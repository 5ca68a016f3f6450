/** What a browser keeps of how somebody looks at things: widths, which columns; never what stands in them. */
import type { z } from 'zod';

const keyOf = (name: string) => `look of ${name}`;

/** Null where nothing of that form is kept, or the browser keeps nothing. */
export function readKept<T>(name: string, form: z.ZodType<T>): T | null {
	try {
		return form.parse(JSON.parse(localStorage.getItem(keyOf(name)) ?? ''));
	} catch {
		return null;
	}
}
export function keep(name: string, look: unknown): void {
	try {
		localStorage.setItem(keyOf(name), JSON.stringify(look));
	} catch {
		// A browser that keeps nothing shows the usual look the next time.
	}
}
