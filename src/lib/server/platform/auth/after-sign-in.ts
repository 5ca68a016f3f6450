/** Where to go after signing in: a path of this application, as it was asked for. */

const HERE = 'http://here.invalid';

/** @returns the path with its query, in the form in which it can be sent; `/` for anything that leads elsewhere */
export function pathHere(to: unknown): string {
	if (typeof to !== 'string' || to.length > 4000 || !to.startsWith('/') || !URL.canParse(to, HERE))
		return '/';
	// Read as browsers read it: they leave out tabs and line breaks, and take a backslash for a slash.
	const url = new URL(to, HERE);
	return url.origin === HERE && !url.pathname.startsWith('//') ? url.pathname + url.search + url.hash : '/';
}
