import { fail, redirect } from '@sveltejs/kit';
import {
	closeSession,
	openSession,
	SESSION_COOKIE,
	SESSION_SECONDS,
	signIn
} from '$lib/server/auth/sessions';
import { hasCompany } from '$lib/server/company/store';
import { database } from '$lib/server/database';
import { Refusal } from '$lib/server/refusal';
import { isDemo } from '$lib/server/settings';

export const load = async ({ locals, url }) => {
	if (locals.user) redirect(303, safe(url.searchParams.get('to')));
	const db = await database();
	const company = await db('company').first('name');
	const users = isDemo()
		? await db('user').orderBy('position').select('email', 'name', 'role', 'departments')
		: [];
	const names = new Map((await db('department').select('code', 'name')).map((d) => [d.code, d.name]));
	return {
		company: company?.name ?? null,
		ready: await hasCompany(db),
		demo: users.map((u) => ({
			...u,
			departments: u.departments
				.split(';')
				.map((d: string) => names.get(d) ?? d)
				.join(', ')
		}))
	};
};

/** Only addresses of this site are followed after sign-in. */
const safe = (to: string | null) => (to && /^\/(?![/\\])/.test(to) ? to : '/');

async function enter(email: string, cookies: import('@sveltejs/kit').Cookies, url: URL): Promise<never> {
	const old = cookies.get(SESSION_COOKIE);
	const db = await database();
	if (old) await closeSession(db, old);
	cookies.set(SESSION_COOKIE, await openSession(db, email), {
		path: '/',
		httpOnly: true,
		sameSite: 'lax',
		secure: url.protocol === 'https:',
		maxAge: SESSION_SECONDS
	});
	redirect(303, safe(url.searchParams.get('to')));
}

export const actions = {
	password: async ({ request, cookies, url, getClientAddress }) => {
		const form = await request.formData();
		const email = String(form.get('email') ?? '');
		try {
			const user = await signIn(
				await database(),
				email,
				String(form.get('password') ?? ''),
				getClientAddress()
			);
			return await enter(user.email, cookies, url);
		} catch (e) {
			if (e instanceof Refusal) return fail(e.status, { email, message: e.message });
			throw e;
		}
	},
	demo: async ({ request, cookies, url }) => {
		if (!isDemo()) return fail(403, { email: '', message: 'One-click sign-in is open on the demo alone.' });
		const email = String((await request.formData()).get('email') ?? '');
		const user = await (await database())('user').where({ email }).first('email');
		if (!user) return fail(404, { email, message: `There is no user ${email}.` });
		return enter(user.email, cookies, url);
	}
};
