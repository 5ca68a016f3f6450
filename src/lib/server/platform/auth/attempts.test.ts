import { describe, expect, it } from 'vitest';
import { Attempts } from './attempts';

const MINUTE = 60_000;
const limits = (user: string, address: string) => [
	{ key: `user ${user}`, most: 3 },
	{ key: `address ${address}`, most: 5 }
];

describe('attempts', () => {
	it('are as many as allowed for one user from anywhere, and from one address for anybody', () => {
		const attempts = new Attempts(MINUTE);
		const at = (user: string, address: string, now = 0) => attempts.begin(limits(user, address), now);
		expect([1, 2, 3, 4].map((n) => at('ana', `${n}`))).toEqual([true, true, true, false]);
		expect(['a', 'b', 'c', 'd', 'e', 'f'].map((user) => at(user, 'x'))).toEqual([
			true,
			true,
			true,
			true,
			true,
			false
		]);
		// What is refused counts for nothing: it keeps nobody else out.
		for (let i = 0; i < 50; i++) at('ana', 'y');
		expect(at('urs', 'y')).toBe(true);
		expect(at('ana', 'z', MINUTE + 1)).toBe(true);
	});
	it('are taken back when they were right, each alone', () => {
		const attempts = new Attempts(MINUTE);
		attempts.begin(limits('ana', 'x'), 0);
		attempts.begin(limits('ana', 'x'), 0);
		attempts.succeed(limits('ana', 'x'), 0);
		expect([1, 2, 3].map(() => attempts.begin(limits('ana', 'x'), 0))).toEqual([true, true, false]);
	});
	it('take no more memory than they may, and forget the oldest first', () => {
		const attempts = new Attempts(MINUTE, 100);
		for (let i = 0; i < 10_000; i++) attempts.begin(limits(`${i}`, `${i}`), i);
		expect(attempts.size).toBeLessThanOrEqual(100);
		for (let i = 0; i < 3; i++) attempts.begin(limits('ana', `${i}-x`), 10_000);
		expect(attempts.begin(limits('ana', 'y'), 10_000)).toBe(false);
	});
});
