import { page } from '$lib/server/http';
import { readModel } from '$lib/server/models';
import { selectionFrom } from '$lib/server/selection';

const list = (text: string | null) => (text ?? '').split(',').filter(Boolean);

export const load = ({ locals, url, params }) =>
	page({ locals }, async (db, user) => {
		const s = await selectionFrom(db, user, url);
		const where = Object.fromEntries(
			list(url.searchParams.get('where')).map((p) => p.split(':') as [string, string])
		);
		const open = list(url.searchParams.get('open'));
		return { model: await readModel(db, user, { ...s, model: params.model, open, where }), where, open };
	});
