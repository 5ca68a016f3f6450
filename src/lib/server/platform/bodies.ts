/** Bodies of requests, read up to a bound: what is larger is refused as soon as that is known. */
import { Refusal } from './refusal';

const size = (bytes: number) =>
	bytes >= 1024 * 1024 ? `${Math.floor(bytes / 1024 / 1024)} MB` : `${Math.floor(bytes / 1024)} kB`;

/** @throws Refusal 413 for more than `most` bytes; no more than that is ever kept */
export async function readBytes(request: Request, most: number): Promise<Uint8Array> {
	const tooLarge = () =>
		new Refusal(
			413,
			`This request is larger than ${size(most)}, the most that is taken here. Send it in parts.`
		);
	if (Number(request.headers.get('content-length') ?? 0) > most) throw tooLarge();
	if (!request.body) return new Uint8Array();
	const parts: Uint8Array[] = [];
	let length = 0;
	const reader = request.body.getReader();
	for (;;) {
		const { done, value } = await reader.read();
		if (done) break;
		length += value.length;
		if (length > most) {
			void readAway(reader);
			throw tooLarge();
		}
		parts.push(value);
	}
	const bytes = new Uint8Array(length);
	let at = 0;
	for (const part of parts) {
		bytes.set(part, at);
		at += part.length;
	}
	return bytes;
}

/** More than this of what nobody wants is not even read away: the connection ends. */
const MOST_DISCARDED = 256 * 1024 * 1024;

async function readAway(reader: ReadableStreamDefaultReader<Uint8Array>): Promise<void> {
	try {
		for (let length = 0; length < MOST_DISCARDED;) {
			const { done, value } = await reader.read();
			if (done) return;
			length += value.length;
		}
		await reader.cancel();
	} catch {
		// Whoever sent it has gone.
	}
}

/**
 * Reads a body away that has been refused, beside the answer: a connection that is ended over it would take the answer
 * with it.
 */
export function discard({ body, bodyUsed }: Request): void {
	if (body && !bodyUsed && !body.locked) void readAway(body.getReader());
}

/** A form's body. @throws Refusal 400 for what is no form, 413 */
export async function readForm(request: Request, most: number): Promise<FormData> {
	const bytes = await readBytes(request, most);
	try {
		const type = request.headers.get('content-type') ?? '';
		return await new Response(bytes as BodyInit, { headers: { 'content-type': type } }).formData();
	} catch {
		throw new Refusal(400, 'The form is incomplete or not readable.');
	}
}
