/** What follows from a form and a structure, which nobody changes. */
import type { Structure } from '../company/structure';

/** Makes it once for each form, as long as it is asked for in the same structure; nobody may change what is answered. */
export function madeOnce<Form extends object, T>(
	make: (form: Form, structure: Structure) => T
): (form: Form, structure: Structure) => T {
	const made = new WeakMap<Form, { structure: Structure; value: T }>();
	return (form, structure) => {
		const have = made.get(form);
		if (have?.structure === structure) return have.value;
		const value = make(form, structure);
		made.set(form, { structure, value });
		return value;
	};
}
