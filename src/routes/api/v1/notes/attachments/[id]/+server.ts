import { api } from '$lib/server/http';
import { readAttachment, removeAttachment } from '$lib/server/notes';

/** Handed out as a download, whatever it is: nothing of it runs in the page. */
export const GET = api(async ({ db, user, event }) => {
	const { name, content } = await readAttachment(db, user, Number(event.params.id));
	return new Response(new Uint8Array(content), {
		headers: {
			'content-type': 'application/octet-stream',
			'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
			'x-content-type-options': 'nosniff'
		}
	});
});

export const DELETE = api(({ db, user, event }) => removeAttachment(db, user, Number(event.params.id)));
