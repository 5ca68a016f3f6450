/** Text of a file that somebody chooses where a list is pasted: a workbook's is read on the server. */
import { decodeText, isZip } from '../../core/encoding';
import { ApiError, send } from './api';

export interface Brought {
	content: string;
	/** How it was read, where that is to be looked at; empty where it is plain. */
	said: string;
}

/** @param path the route that reads workbooks @throws ApiError for what is neither text nor a workbook */
export async function broughtText(file: File, path = 'worksheets'): Promise<Brought> {
	const bytes = new Uint8Array(await file.arrayBuffer());
	if (isZip(bytes)) return send<Brought>(path, file, {});
	const text = decodeText(bytes);
	if (!text) throw new ApiError(422, `${file.name} is no text or workbook. Save it as CSV or XLSX.`);
	return { content: text.content, said: '' };
}
