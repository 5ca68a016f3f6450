/** Headers that every answer carries: pages, data, refusals, redirects and downloads alike. */

/** For what is no page: nothing of it runs or loads anything. */
const NO_PAGE = "default-src 'none'; frame-ancestors 'none'";

export function secured(response: Response, url: URL): Response {
	const { headers } = response;
	headers.set('x-content-type-options', 'nosniff');
	headers.set('referrer-policy', 'same-origin');
	if (!headers.has('content-security-policy')) headers.set('content-security-policy', NO_PAGE);
	// What is asked here is figures, or leads to them: no copy of it is kept, also not for the way back.
	headers.set('cache-control', 'no-store');
	if (url.protocol === 'https:') headers.set('strict-transport-security', 'max-age=31536000');
	return response;
}
