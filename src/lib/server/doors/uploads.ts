import { cleaned } from '../../core/text';
import { readForm } from '../platform/bodies';
import { check } from '../platform/check';
import { shapeOf, type Call, type Shape } from './http';
import { Refusal } from '../platform/refusal';
import { UPLOAD_LIMIT } from '../platform/settings';
import { textOfFile, type BroughtText } from '../platform/worksheets/worksheets';

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

/** The text of an uploaded file, or of the first sheet of a workbook, with its request. @throws Refusal when it is neither */
export async function upload<T>(
	call: Call,
	shape: Shape<T>
): Promise<{ name: string; text: BroughtText; request: T }> {
	const { name, bytes, request } = await uploadedBytes(call, shape, UPLOAD_LIMIT);
	return { name, text: await textOfFile(name, bytes), request };
}
