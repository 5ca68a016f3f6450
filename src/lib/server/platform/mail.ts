/**
 * Mail to people: kept in an outbox, and sent where there is a mail server. Without one the outbox is where mail is read,
 * so that it holds links as they are; what was sent is kept without them.
 */
import type { Knex } from 'knex';
import { createTransport } from 'nodemailer';
import { z } from 'zod';
import * as stored from './db/stored';
import { mailFrom, smtp, timestamp } from './settings';

export interface Mail {
	to: string;
	subject: string;
	body: string;
	/** What of the body nobody else may read: left out of what is kept once it was sent. */
	secret: string;
}

const MailRow = z.object({
	id: stored.whole,
	at: stored.text,
	to: stored.text,
	subject: stored.text,
	body: stored.text,
	failure: stored.textOrNone,
	sent: stored.flag
});
export type KeptMail = z.output<typeof MailRow>;

/** So many are kept. */
const MOST_KEPT = 500;
/** Milliseconds until a mail server that says nothing is given up. */
const PATIENCE = 10_000;

/** Sends a mail, or keeps it where there is no mail server. @returns why it could not be sent; null when nothing is wrong */
export async function sendMail(db: Knex, { to, subject, body, secret }: Mail): Promise<string | null> {
	const server = smtp();
	let failure: string | null = null;
	if (server)
		try {
			const timeouts = { connectionTimeout: PATIENCE, greetingTimeout: PATIENCE, socketTimeout: PATIENCE };
			await createTransport({ url: server, ...timeouts }).sendMail({
				from: mailFrom(),
				to,
				subject,
				text: body
			});
		} catch (e) {
			failure = (e as Error).message.slice(0, 300);
		}
	const sent = server !== null && failure === null;
	await db('mail').insert({
		at: timestamp(),
		to,
		subject,
		body: server ? body.replaceAll(secret, '…') : body,
		failure,
		sent: sent ? 1 : 0
	});
	const oldest = await stored.one(
		z.object({ last: stored.wholeOrNone }),
		db('mail').max({ last: 'id' }).first()
	);
	await db('mail')
		.where('id', '<=', (oldest.last ?? 0) - MOST_KEPT)
		.delete();
	return failure;
}

/** What has gone out, the latest first. */
export const sentMail = (db: Knex): Promise<KeptMail[]> =>
	stored.rows(MailRow, db('mail').orderBy('id', 'desc').limit(MOST_KEPT));
