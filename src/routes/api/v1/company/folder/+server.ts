import { api } from '$lib/server/doors/http';
import { companyArchive } from '$lib/server/transfer/take';

/** The whole company as a zip of its folder. */
export const GET = api(async ({ context }) => {
	const { name, bytes } = await companyArchive(context);
	return new Response(bytes as Uint8Array<ArrayBuffer>, {
		headers: {
			'content-type': 'application/zip',
			'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}.zip`
		}
	});
});
