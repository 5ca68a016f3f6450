import { fail, redirect } from '@sveltejs/kit';
import { signIn } from '$lib/server/platform/auth/sessions';
import { enter } from '$lib/server/doors/entering';
import { hasCompany } from '$lib/server/company/subjects/company';
import { pathHere } from '$lib/server/platform/auth/after-sign-in';
import { readForm } from '$lib/server/platform/bodies';
import { database } from '$lib/server/platform/database';
import { Refusal } from '$lib/server/platform/refusal';
import { isDemo } from '$lib/server/platform/settings';

export const load = async ({ locals, url }) => {
	if (locals.user) redirect(303, pathHere(url.searchParams.get('to')));
	const db = await database();
	const company = await db('company').first('name');
	const users = isDemo()
		? await db('user')
				.where({ disabled: 0 })
				.orderBy('position')
				.select('email', 'name', 'role', 'departments')
		: [];
	const names = new Map((await db('department').select('code', 'name')).map((d) => [d.code, d.name]));
	return {
		company: company?.name ?? null,
		ready: await hasCompany(db),
		to: pathHere(url.searchParams.get('to')),
		demo: users.map((u) => ({
			...u,
			departments: u.departments
				.split(';')
				.map((d: string) => names.get(d) ?? d)
				.join(', ')
		}))
	};
};

/** No sign-in is larger. */
const FORM_SIZE = 16 * 1024;

/** Runs a sign-in; what cannot be is said on the page, and the way to go afterwards is kept. */
async function signingIn(request: Request, work: (form: FormData, email: string) => Promise<never>) {
	let email = '';
	let to = '/';
	try {
		const form = await readForm(request, FORM_SIZE);
		to = pathHere(form.get('to'));
		email = String(form.get('email') ?? '').slice(0, 254);
		return await work(form, email);
	} catch (e) {
		if (e instanceof Refusal) return fail(e.status, { email, to, message: e.message });
		throw e;
	}
}

export const actions = {
	password: ({ request, getClientAddress, ...event }) =>
		signingIn(request, async (form, email) => {
			const password = String(form.get('password') ?? '');
			const db = await database();
			const user = await signIn(db, email, password, getClientAddress());
			await enter(db, user.email, event);
			redirect(303, pathHere(form.get('to')));
		}),
	demo: ({ request, ...event }) =>
		signingIn(request, async (form, email) => {
			if (!isDemo()) throw new Refusal(403, 'One-click sign-in is open on the demo alone.');
			const db = await database();
			const user = await db('user').where({ email, disabled: 0 }).first('email');
			if (!user) throw new Refusal(404, 'There is no such user.');
			await enter(db, user.email, event);
			redirect(303, pathHere(form.get('to')));
		})
};
