import { z } from 'zod';
import { takes } from '$lib/server/doors/http';
import { endSession } from '$lib/server/doors/live';
import { changePassword } from '$lib/server/platform/auth/own-password';
import { Password } from '$lib/server/platform/auth/passwords';
import { SESSION_COOKIE } from '$lib/server/platform/auth/sessions';

const Change = z.strictObject({ present: z.string().max(1024), next: Password });

/** Changes the user's own password; other sessions of theirs end, and pages that show them. */
export const POST = takes({ body: Change, size: 8 * 1024 }, async ({ context, event, input }) => {
	const session = event.cookies.get(SESSION_COOKIE) ?? '';
	const ended = await changePassword(context, input, event.getClientAddress(), session);
	for (const hash of ended) endSession(hash);
	return { ended: ended.length };
});
