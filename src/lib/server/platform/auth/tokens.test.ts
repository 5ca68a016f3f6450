import type { Knex } from 'knex';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { openDatabase } from '../db/connect';
import type { User } from './sessions';
import { bearerOf, endToken, listTokens, makeToken, tokenMayNot, userOfToken } from './tokens';

const DAY = 86_400_000;
const ada: User = { email: 'ada@lind.example', name: 'Ada', role: 'analyst', departments: ['a'], pay: true };
const ben: User = { ...ada, email: 'ben@lind.example', name: 'Ben' };
let db: Knex;
beforeEach(async () => {
	db = await openDatabase(':memory:');
	for (const [position, { departments, ...u }] of [ada, ben].entries())
		await db('user').insert({ ...u, departments: departments.join(';'), position });
});
afterEach(() => db.destroy());
const make = (change: object = {}, now?: number) =>
	makeToken({ db, user: ada }, { name: 'Ledger export', scope: 'read', days: 30, ...change }, now);

it('a token is its user until its day, and is kept as a hash alone', async () => {
	const now = Date.now();
	const token = await make({}, now);
	expect(token).toMatch(/^ys_[\w-]{43}$/);
	expect(JSON.stringify(await db('access_token').select())).not.toContain(token);
	expect(await userOfToken(db, token, now + 29 * DAY)).toEqual({ user: ada, scope: 'read' });
	expect(await userOfToken(db, token, now + 30 * DAY)).toBeNull();
	expect(await userOfToken(db, 'ys_none', now)).toBeNull();
	expect(await listTokens({ db, user: ada }, now + 31 * DAY)).toEqual([]);
});
it('says when it was used last, to the hour', async () => {
	const now = Date.now();
	const token = await make({}, now);
	const used = async () => (await listTokens({ db, user: ada }, now))[0].used_at;
	expect(await used()).toBeNull();
	await userOfToken(db, token, now + 1000);
	await userOfToken(db, token, now + 2000);
	expect(await used()).toBe(now + 1000);
	await userOfToken(db, token, now + 2 * 3_600_000);
	expect(await used()).toBe(now + 2 * 3_600_000);
});
it('is ended by its user alone, and at once', async () => {
	const token = await make();
	const [{ id }] = await listTokens({ db, user: ada });
	await expect(endToken({ db, user: ben }, id)).rejects.toMatchObject({ status: 404 });
	expect(await userOfToken(db, token)).not.toBeNull();
	await endToken({ db, user: ada }, id);
	expect(await userOfToken(db, token)).toBeNull();
	await expect(endToken({ db, user: ada }, id)).rejects.toMatchObject({ status: 404 });
});
it('opens nothing once its user is disabled', async () => {
	const token = await make({ scope: 'change' });
	await db('user').where({ email: ada.email }).update({ disabled: 1 });
	expect(await userOfToken(db, token)).toBeNull();
});
it('nobody has any number of them', async () => {
	for (let n = 0; n < 20; n++) await make();
	await expect(make()).rejects.toMatchObject({ status: 409 });
	// Those that have ended do not count.
	await make({}, Date.now() + 31 * DAY);
});
it.each([
	['read', 'GET', '/api/v1/plan', false],
	['read', 'POST', '/api/v1/trace', false],
	['read', 'POST', '/api/v1/scenarios/x/cells', true],
	['read', 'DELETE', '/api/v1/scenarios/x', true],
	['change', 'POST', '/api/v1/scenarios/x/cells', false],
	['change', 'GET', '/api/v1/me/tokens', true],
	['change', 'DELETE', '/api/v1/me/tokens/1', true],
	['change', 'POST', '/api/v1/me/password', true],
	['change', 'GET', '/api/v1/me', false]
] as const)('one to %s: %s %s is refused: %s', (scope, method, path, refused) => {
	expect(tokenMayNot(scope, method, path) !== null).toBe(refused);
});
it.each([
	['Bearer ys_a', 'ys_a'],
	['bearer  ys_a', 'ys_a'],
	['Basic ys_a', null],
	['Bearer', null],
	['Bearer a b', null]
])('“%s” shows %s', (authorization, token) => {
	expect(bearerOf(new Request('http://here/', { headers: { authorization } }))).toBe(token);
});
