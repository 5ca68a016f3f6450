/** What keeps the house in order is counted, so that it stays so. */
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';

function files(folder: string): string[] {
	return readdirSync(folder).flatMap((name) => {
		const path = join(folder, name);
		return statSync(path).isDirectory() ? files(path) : [path];
	});
}
const code = files('src').filter((f) => /\.(ts|svelte)$/.test(f) && !/parser(\.terms)?\.ts$/.test(f));

describe('the house', () => {
	it('has no folder with more than 25 files beside their tests', () => {
		const count = new Map<string, number>();
		for (const f of code.filter((f) => !/\.test\.ts$/.test(f))) {
			const folder = f.slice(0, f.lastIndexOf('/'));
			count.set(folder, (count.get(folder) ?? 0) + 1);
		}
		expect([...count].filter(([, n]) => n > 25)).toEqual([]);
	});
	it('makes controls in the kit and in the grid, and hardly anywhere else', () => {
		const raw = code
			.filter((f) => f.endsWith('.svelte') && !/ui\/(kit|grid)\//.test(f))
			.flatMap((f) =>
				(readFileSync(f, 'utf8').match(/<(button|input|select|textarea|table|dialog)\b/g) ?? []).map(() => f)
			);
		expect(raw.length, raw.join('\n')).toBeLessThan(12);
	});
	it('knows how many months a year has in the calendar alone', () => {
		// Hours, sizes in pixels and the like may be twelve; months of a year are reckoned in `calendar/`.
		const reckoned = code
			.filter((f) => /\.ts$/.test(f) && !/core\/calendar\/|\.test\.ts$/.test(f))
			// Texts are formulas of people, 12 * 3600 are hours, 1e-12 is small.
			.filter((f) =>
				/[*/%]\s*12\b(?! \* 3600)|(?<![\w-])12\s*[*](?! 3600)/.test(
					readFileSync(f, 'utf8').replace(/'[^'\n]*'/g, "''")
				)
			);
		expect(reckoned).toEqual([]);
	});
});
