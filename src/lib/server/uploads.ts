import type { RequestEvent } from '@sveltejs/kit';
import { check } from './http';
import { Refusal } from './refusal';
import type { z } from 'zod';

/** An uploaded file with a JSON field `request` beside it. @throws Refusal when either is missing */
export async function uploadedBytes<T>(
	event: RequestEvent,
	schema: z.ZodType<T>
): Promise<{ name: string; bytes: Uint8Array; request: T }> {
	let form: FormData;
	try {
		form = await event.request.formData();
	} catch {
		throw new Refusal(400, 'The upload is incomplete or too large.');
	}
	const file = form.get('file');
	if (!(file instanceof File) || file.size === 0) throw new Refusal(400, 'Choose a file that is not empty.');
	let request: unknown;
	try {
		request = JSON.parse(String(form.get('request') ?? '{}'));
	} catch {
		throw new Refusal(400, 'The request is not readable as JSON.');
	}
	return {
		name: file.name,
		bytes: new Uint8Array(await file.arrayBuffer()),
		request: check(request, schema)
	};
}

/** An uploaded text file with its request. @throws Refusal when it is no text */
export async function upload<T>(
	event: RequestEvent,
	schema: z.ZodType<T>
): Promise<{ name: string; content: string; request: T }> {
	const { name, bytes, request } = await uploadedBytes(event, schema);
	if (bytes.subarray(0, 4096).includes(0))
		throw new Refusal(422, `${name} is no text file. Export it from the ledger as CSV.`);
	let content: string;
	try {
		content = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
	} catch {
		// Older ledgers export in the Windows Western code page.
		content = new TextDecoder('windows-1252').decode(bytes);
	}
	return { name, content, request };
}
