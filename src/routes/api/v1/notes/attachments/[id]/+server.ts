import { api } from '$lib/server/doors/http';
import { check } from '$lib/server/platform/check';
import { readAttachment, removeAttachment } from '$lib/server/changes/notes';
import { RecordId } from '$lib/server/platform/schemas';

/** Handed out as a download, whatever it is: nothing of it runs in the page. */
export const GET = api(async ({ context, event }) => {
	const { name, content } = await readAttachment(context, check(event.params.id, RecordId));
	return new Response(new Uint8Array(content), {
		headers: {
			'content-type': 'application/octet-stream',
			'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
			'x-content-type-options': 'nosniff'
		}
	});
});

export const DELETE = api(({ context, event }) =>
	removeAttachment(context, check(event.params.id, RecordId))
);
