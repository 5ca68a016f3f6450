import { error, fail, redirect } from '@sveltejs/kit';
import { enter } from '$lib/server/doors/entering';
import { endSession } from '$lib/server/doors/live';
import { useLink, whoseLink } from '$lib/server/people/links';
import { Password } from '$lib/server/platform/auth/passwords';
import { readForm } from '$lib/server/platform/bodies';
import { database } from '$lib/server/platform/database';
import { Refusal } from '$lib/server/platform/refusal';

export const load = async ({ url }) => {
	const db = await database();
	try {
		const { name, email } = await whoseLink(db, url.searchParams.get('key') ?? '');
		return { name, email, company: (await db('company').first('name'))?.name as string };
	} catch (e) {
		if (e instanceof Refusal) error(e.status, e.message);
		throw e;
	}
};

const FORM_SIZE = 16 * 1024;

export const actions = {
	default: async ({ request, url, ...event }) => {
		try {
			const form = await readForm(request, FORM_SIZE);
			const [password, again] = [form.get('password'), form.get('again')].map((v) => String(v ?? ''));
			const fault = Password.safeParse(password).error?.issues[0].message;
			if (fault) throw new Refusal(400, `This cannot be your password: ${fault}.`);
			if (password !== again) throw new Refusal(400, 'The password is not the same both times.');
			const db = await database();
			const { email, ended } = await useLink(db, url.searchParams.get('key') ?? '', password);
			for (const hash of ended) endSession(hash);
			await enter(db, email, { ...event, url });
		} catch (e) {
			if (e instanceof Refusal) return fail(e.status, { message: e.message });
			throw e;
		}
		redirect(303, '/');
	}
};
