/** Talks to the server's API; a refusal comes back as an ApiError with its sentence and places. */
export interface Fault {
	message: string;
	file?: string;
	row?: number;
	column?: string;
	span?: { from: number; to: number };
}

export class ApiError extends Error {
	constructor(
		readonly status: number,
		message: string,
		readonly faults: Fault[] = [],
		readonly data: unknown = null
	) {
		super(message);
	}
}

async function answer<T>(
	request: Promise<Response>,
	read: (response: Response) => Promise<unknown> = (r) => r.json()
): Promise<T> {
	let response: Response;
	try {
		response = await request;
	} catch {
		throw new ApiError(
			0,
			'The server cannot be reached. Nothing you typed is lost; try again when the connection is back.'
		);
	}
	if (response.ok) return (await read(response)) as T;
	let error: { message?: string; faults?: Fault[]; data?: unknown } = {};
	try {
		error = (await response.json()).error ?? {};
	} catch {
		// An answer without JSON has no sentence of its own.
	}
	if (response.status === 401)
		throw new ApiError(
			401,
			'Your session has ended. Sign in again in another tab; what you typed stays here.'
		);
	throw new ApiError(
		response.status,
		error.message ?? `The server answered ${response.status}.`,
		error.faults,
		error.data
	);
}

/** Tells this page from others of the same user: what it saves itself it is not told. */
export const TAB = Math.random().toString(36).slice(2);
const own = { 'x-tab': TAB };

export const get = <T>(path: string) => answer<T>(fetch(`/api/v1/${path}`));
/** What the server answers, as it is sent. */
export const bytes = (path: string) => answer<ArrayBuffer>(fetch(`/api/v1/${path}`), (r) => r.arrayBuffer());
const withBody =
	(method: 'POST' | 'PATCH') =>
	<T>(path: string, value: unknown) =>
		answer<T>(
			fetch(`/api/v1/${path}`, {
				method,
				headers: { ...own, 'content-type': 'application/json' },
				body: JSON.stringify(value)
			})
		);
export const post = withBody('POST');
export const patch = withBody('PATCH');
export const remove = <T>(path: string) =>
	answer<T>(fetch(`/api/v1/${path}`, { method: 'DELETE', headers: own }));
export function send<T>(path: string, file: File, request: unknown): Promise<T> {
	const form = new FormData();
	form.set('file', file);
	form.set('request', JSON.stringify(request));
	return answer<T>(fetch(`/api/v1/${path}`, { method: 'POST', headers: own, body: form }));
}
