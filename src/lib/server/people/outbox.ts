/** The outbox, for who manages people. */
import { companyFor } from '../company/structure';
import type { Context } from '../platform/context';
import { sentMail, type KeptMail } from '../platform/mail';
import { smtp } from '../platform/settings';

/** @returns `server` where mail is sent through a mail server, rather than read here alone */
export async function readOutbox(context: Context): Promise<{ server: boolean; mail: KeptMail[] }> {
	await companyFor(context, 'manage people');
	return { server: smtp() !== null, mail: await sentMail(context.db) };
}
