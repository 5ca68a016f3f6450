/** The outbox, for who manages people. */
import { may } from '../platform/auth/policy';
import { companyFor } from '../company/structure';
import type { Context } from '../platform/context';
import * as stored from '../platform/db/stored';
import { sentMail, type KeptMail } from '../platform/mail';
import { smtp } from '../platform/settings';

/** @returns `server` where mail is sent through a mail server, rather than read here alone */
export async function readOutbox(context: Context): Promise<{ server: boolean; mail: KeptMail[] }> {
	const { structure } = await companyFor(context, 'manage people');
	const { db, user } = context;
	const mail = await sentMail(db);
	if (may(user, 'see individual pay', structure.departments)) return { server: smtp() !== null, mail };
	// By their links one would come to see what they see.
	const closed = new Set(await stored.texts(db('user').where({ pay: 1 }).pluck('email')));
	return {
		server: smtp() !== null,
		mail: mail.map((m) =>
			closed.has(m.to) && m.to !== user.email
				? { ...m, body: 'For who is written to: they see individual pay, and you do not.' }
				: m
		)
	};
}
