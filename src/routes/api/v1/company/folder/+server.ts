import { z } from 'zod';
import { asked } from '$lib/server/doors/http';
import { companyArchive } from '$lib/server/transfer/take';

const Wanted = z.strictObject({ figures: z.enum(['yes', 'no']).default('yes') });

/** The whole company as a zip of its folder, with its figures or without. */
export const GET = asked(Wanted, async ({ context, input }) => {
	const { name, bytes } = await companyArchive(context, input.figures === 'yes');
	return new Response(bytes as Uint8Array<ArrayBuffer>, {
		headers: {
			'content-type': 'application/zip',
			'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}.zip`
		}
	});
});
