/** The people of a company: who signs in, as what, for which departments; invited, changed, disabled, never deleted. */
import { z } from 'zod';
import { readable } from '../../core/company/schema';
import type { Department } from '../../core/company/schema';
import type { Structure } from '../../core/company/structure';
import type { Tree } from '../../core/company/tree';
import { companyFor } from '../company/structure';
import { noteCompany } from '../company/journal';
import { may } from '../platform/auth/policy';
import { Role } from '../platform/auth/roles';
import { closeSessions, UserRow } from '../platform/auth/sessions';
import { asOne, type Context, type Within } from '../platform/context';
import * as stored from '../platform/db/stored';
import { sendMail } from '../platform/mail';
import { notFound, Refusal } from '../platform/refusal';
import { smtp } from '../platform/settings';
import { keepingToThoseWhoSee } from '../scenarios/rests-on';
import { HOLDS, makeLink } from './links';

/** As they may sign in: not yet invited, invited, active, or not any more. */
export type PersonState = 'new' | 'invited' | 'active' | 'disabled';
export interface Person {
	email: string;
	name: string;
	role: Role;
	/** Codes; the role covers each with all under it. */
	departments: string[];
	/** Sees individual pay. */
	pay: boolean;
	state: PersonState;
	/** Open sessions. */
	sessions: number;
}

const name = z.string().trim().min(1, 'a name is missing').max(120).superRefine(readable());
const departments = z.array(z.string().max(64)).min(1, 'at least one department is needed').max(200);
export const NewPerson = z.strictObject({
	email: z
		.string()
		.trim()
		.toLowerCase()
		.max(254)
		.regex(/^[^\s@/]+@[^\s@/]+$/, 'an e-mail address was expected'),
	name,
	role: Role,
	departments,
	pay: z.boolean().default(false)
});
export const PersonChange = z.strictObject({
	name: name.optional(),
	role: Role.optional(),
	departments: departments.optional(),
	pay: z.boolean().optional(),
	disabled: z.boolean().optional()
});

const PersonRow = UserRow.extend({
	password_hash: stored.textOrNone,
	disabled: stored.flag,
	expires_at: stored.wholeOrNone,
	sessions: stored.whole
});

/** Everybody, in their order. */
export async function listPeople(context: Context, now = Date.now()): Promise<Person[]> {
	await companyFor(context, 'manage people');
	const { db } = context;
	const open = db('session')
		.where('expires_at', '>', now)
		.groupBy('email')
		.select('email')
		.count({ n: '*' })
		.as('open');
	const rows = await stored.rows(
		PersonRow,
		db('user')
			.leftJoin('entry_link', 'entry_link.email', 'user.email')
			.leftJoin(open, 'open.email', 'user.email')
			.orderBy('position')
			.select('user.*', 'entry_link.expires_at', db.raw('coalesce(??, 0) as ??', ['open.n', 'sessions']))
	);
	return rows.map(({ password_hash, disabled, expires_at, ...person }) => ({
		...person,
		state: disabled
			? 'disabled'
			: password_hash !== null
				? 'active'
				: expires_at !== null && expires_at > now
					? 'invited'
					: 'new'
	}));
}

/** How an entry of the journal holds what somebody is. */
const words = (p: {
	name: string;
	role: string;
	departments: readonly string[];
	pay: boolean;
	disabled: boolean;
}) =>
	[
		p.name,
		p.role,
		p.departments.join(';'),
		...(p.pay ? ['sees individual pay'] : []),
		...(p.disabled ? ['disabled'] : [])
	].join(', ');

/** What only those who see individual pay themselves may do, so that nobody comes by that right through another. */
function mustSeePay({ user }: Context, structure: Structure, what: string): void {
	if (!may(user, 'see individual pay', structure.departments))
		throw new Refusal(403, `Only somebody who sees individual pay may ${what}.`);
}

function mustBeDepartments(codes: readonly string[], tree: Tree<Department>): void {
	const none = codes.find((code) => !tree.get(code));
	if (none !== undefined)
		throw new Refusal(422, 'Nothing was changed.', [
			{ column: 'departments', message: `there is no department “${none}”` }
		]);
}

const journal = (within: Within, email: string, before: string, after: string) =>
	noteCompany(within, { what: 'person', email }, before, after);

/** What somebody who has been invited is told, and who invites. */
export interface Invitation {
	/** The address; it works once. */
	link: string;
	/** Until when, as an ISO time. */
	until: string;
	/** Why no mail went out; null when one did, or waits in the outbox. */
	failure: string | null;
	/** There is no mail server: the mail waits in the outbox. */
	waits: boolean;
}

/**
 * Adds somebody and sends them an invitation.
 * @param origin where the application is reached
 * @throws Refusal 409 where the e-mail is somebody’s already, 422
 */
export async function invite(
	context: Context,
	person: z.output<typeof NewPerson>,
	origin: string
): Promise<Invitation> {
	const { email } = person;
	const { structure } = await companyFor(context, 'manage people');
	mustBeDepartments(person.departments, structure.departments);
	if (person.pay) mustSeePay(context, structure, 'let others see it');
	const token = await asOne(context, async (within) => {
		const { db: trx } = within;
		const taken = await trx('user').where({ email }).first('name');
		if (taken)
			throw new Refusal(409, `${email} is ${taken.name} already.`, [
				{ column: 'email', message: 'it is somebody’s already' }
			]);
		const { position } = await stored.one(
			stored.lastPlace,
			trx('user').max({ position: 'position' }).first()
		);
		await keepingToThoseWhoSee(within, () =>
			trx('user').insert({
				...person,
				departments: person.departments.join(';'),
				pay: person.pay ? 1 : 0,
				position: (position ?? -1) + 1
			})
		);
		await journal(within, email, '', words({ ...person, disabled: false }));
		return makeLink(trx, email, HOLDS.invitation);
	});
	return send(context, person, token, 'invitation', origin);
}

/** Sends another link: to who has no password yet an invitation, to others one for a new password. */
export async function sendLink(context: Context, email: string, origin: string): Promise<Invitation> {
	const { structure } = await companyFor(context, 'manage people');
	const made = await asOne(context, async ({ db: trx }) => {
		const person = await known(trx, email);
		if (person.pay && person.email !== context.user.email)
			mustSeePay(context, structure, `open the door to ${person.name}, who sees it`);
		if (person.disabled) throw new Refusal(409, `${person.name} is disabled. Let them sign in again first.`);
		const kind = person.password_hash === null ? ('invitation' as const) : ('reset' as const);
		return { person, kind, token: await makeLink(trx, email, HOLDS[kind]) };
	});
	return send(context, made.person, made.token, made.kind, origin);
}

const KnownRow = UserRow.extend({ password_hash: stored.textOrNone, disabled: stored.flag });
async function known(db: Context['db'], email: string) {
	const person = await stored.row(KnownRow, db('user').where({ email }).first());
	if (!person) throw notFound(`Somebody with the e-mail “${email}”`);
	return person;
}

async function send(
	{ db, user }: Context,
	{ email, name }: { email: string; name: string },
	token: string,
	kind: keyof typeof HOLDS,
	origin: string
): Promise<Invitation> {
	const link = `${origin}/join?key=${token}`;
	const until = new Date(Date.now() + HOLDS[kind]).toISOString();
	const company = (await stored.one(z.object({ name: stored.text }), db('company').first('name'))).name;
	const why =
		kind === 'invitation'
			? `${user.name} invites you to plan with ${company}. Choose a password here:`
			: `You can choose a new password for ${company} here:`;
	const failure = await sendMail(db, {
		to: email,
		subject: kind === 'invitation' ? `Planning with ${company}` : `A new password for ${company}`,
		body: `${name},\n\n${why}\n\n${link}\n\nThe address works once, until ${until.slice(0, 16).replace('T', ' ')} UTC. If you do not expect this, leave it alone.\n`,
		secret: token
	});
	return { link, until, failure, waits: smtp() === null };
}

/**
 * Changes what somebody is. Who is disabled is signed out everywhere, and their link opens nothing.
 * @returns hashes of the sessions whose pages have to be told
 * @throws Refusal 404, 409 for one’s own role, 422
 */
export async function changePerson(
	context: Context,
	email: string,
	change: z.output<typeof PersonChange>
): Promise<string[]> {
	const { structure } = await companyFor(context, 'manage people');
	if (change.departments) mustBeDepartments(change.departments, structure.departments);
	return asOne(context, async (within) => {
		const { db: trx, user } = within;
		const before = await known(trx, email);
		const after = { ...before, ...change };
		if (email === user.email && (after.disabled || after.role !== before.role))
			throw new Refusal(
				409,
				'You cannot take away your own right to manage people. Another analyst can do it.'
			);
		if (after.pay !== before.pay) mustSeePay(context, structure, 'give or take the right to see it');
		if (words(before) === words(after)) return [];
		await keepingToThoseWhoSee(within, () =>
			trx('user')
				.where({ email })
				.update({
					name: after.name,
					role: after.role,
					departments: after.departments.join(';'),
					pay: after.pay ? 1 : 0,
					disabled: after.disabled ? 1 : 0
				})
		);
		await journal(within, email, words(before), words(after));
		if (!after.disabled) return stored.texts(trx('session').where({ email }).pluck('token_hash'));
		await trx('entry_link').where({ email }).delete();
		return closeSessions(trx, email);
	});
}

/** Signs somebody out everywhere. @returns hashes of the sessions that have ended */
export async function signOutEverywhere(context: Context, email: string): Promise<string[]> {
	await companyFor(context, 'manage people');
	return asOne(context, async ({ db: trx }) => {
		await known(trx, email);
		return closeSessions(trx, email);
	});
}
