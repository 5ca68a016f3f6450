import { cleaned } from '../../core/text';
import { readForm } from '../platform/bodies';
import { check } from '../platform/check';
import { shapeOf, type Call, type Shape } from './http';
import { Refusal } from '../platform/refusal';
import { UPLOAD_LIMIT } from '../platform/settings';
import { decodeText, type DecodedText } from '../../core/encoding';

/** An uploaded file with a JSON field `request` beside it, not yet looked at. @throws Refusal when either is missing */
export async function readUpload(
	sent: Request,
	most: number
): Promise<{ name: string; bytes: Uint8Array; request: unknown }> {
	// A little more than the file: the form around it.
	const form = await readForm(sent, most + 1024 * 1024);
	const file = form.get('file');
	if (!(file instanceof File) || file.size === 0) throw new Refusal(400, 'Choose a file that is not empty.');
	let request: unknown;
	try {
		request = JSON.parse(String(form.get('request') ?? '{}'));
	} catch {
		throw new Refusal(400, 'The request is not readable as JSON.');
	}
	return {
		name: cleaned(file.name).slice(-200) || 'file',
		bytes: new Uint8Array(await file.arrayBuffer()),
		request
	};
}

/** The same with the field against a schema. */
export async function uploadedBytes<T>(
	call: Call,
	shape: Shape<T>,
	most: number
): Promise<{ name: string; bytes: Uint8Array; request: T }> {
	const { request, ...file } = await readUpload(call.event.request, most);
	return { ...file, request: check(request, await shapeOf(call.context, shape)) };
}

/** An uploaded text file with its request. @throws Refusal when it is no text, or in an encoding that is not known */
export async function upload<T>(
	call: Call,
	shape: Shape<T>
): Promise<{ name: string; text: DecodedText; request: T }> {
	const { name, bytes, request } = await uploadedBytes(call, shape, UPLOAD_LIMIT);
	const text = decodeText(bytes);
	if (!text)
		throw new Refusal(
			422,
			`${name} is no text file, or in an encoding that is not known. Export it from the ledger as CSV in UTF-8.`
		);
	return { name, text, request };
}
