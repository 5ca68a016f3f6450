/**
 * The one-time key to an installation without a company. It is made when the server starts and printed where only who
 * runs the server reads; only its hash is kept, in this process alone.
 */
import { randomBytes, timingSafeEqual } from 'node:crypto';
import { digest } from '../platform/auth/sessions';
import { Attempts } from '../platform/auth/attempts';
import { Refusal } from '../platform/refusal';

let expected: string | null = null;
const attempts = new Attempts(60_000);
/** Wrong keys in a minute, from one address and from all. */
const MOST = { address: 10, all: 100 };

/** @returns a new key; earlier ones are of no use from now on */
export function makeKey(): string {
	const key = randomBytes(24).toString('base64url');
	expected = digest(key);
	return key;
}

/** No key opens anything from now on. */
export function spendKey(): void {
	expected = null;
}

/** @throws Refusal 403 for another key than the one that was made last, 429 after too many wrong ones */
export function mustHaveKey(key: string, address: string, now = Date.now()): void {
	const limits = [
		{ key: `address ${address}`, most: MOST.address },
		{ key: 'all', most: MOST.all }
	];
	if (!attempts.begin(limits, now))
		throw new Refusal(429, 'Too many attempts. Wait a minute, then try again.');
	const given = Buffer.from(digest(key));
	if (expected === null || !timingSafeEqual(given, Buffer.from(expected)))
		throw new Refusal(
			403,
			'This is not the key to this installation. The server printed its address with the key when it started; a key of an earlier start is of no use.'
		);
	attempts.succeed(limits, now);
}
