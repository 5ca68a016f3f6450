/** What the manual promises is there, and what is there is in the manual. */
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { FUNCTIONS } from '../../src/lib/core/formula/functions';
import { FORMULA_LIMITS } from '../../src/lib/core/formula/ast';
import { withFileList } from '../../src/lib/server/company/file-list';
import { readFolder } from '../../src/lib/server/transfer/folder';
import { UPLOAD_LIMIT } from '../../src/lib/server/platform/settings';

const text = (file: string) => readFileSync(file, 'utf8');
const files = (folder: string): string[] =>
	readdirSync(folder, { withFileTypes: true }).flatMap((e) =>
		e.isDirectory() ? files(join(folder, e.name)) : [join(folder, e.name)]
	);

describe('the manual', () => {
	it('names every function of the formula language, and no other', () => {
		const manual = text('docs/formula-language.md');
		for (const f of FUNCTIONS.values()) expect(manual, f.name).toMatch(new RegExp(`\`${f.name}[(\`]`));
		const table = manual.slice(manual.indexOf('| function | gives |'), manual.indexOf('A line may look'));
		for (const [, name] of table.matchAll(/`(\w+)\(/g)) expect(FUNCTIONS.has(name), name).toBe(true);
		expect(manual).toContain(`${FORMULA_LIMITS.operators} operators`);
		expect(manual).toContain(`${FORMULA_LIMITS.length.toLocaleString('en-GB')} characters`);
	});
	it('names every route of the API', () => {
		const manual = text('docs/api.md');
		const routes = files('src/routes/api/v1').map((f) => dirname(f).replace('src/routes/api/v1/', ''));
		for (const route of routes) {
			const written = route.replaceAll(/\[(\w+)\]/g, '<$1>');
			expect(manual, route).toMatch(new RegExp(`(GET|POST|PATCH|DELETE) ${written}[\`? ]`));
			for (const method of ['GET', 'POST', 'PATCH', 'DELETE'])
				expect(new RegExp(`${method} ${written}[\`? ]`).test(manual), `${method} ${route}`).toBe(
					text(`src/routes/api/v1/${route}/+server.ts`).includes(`export const ${method}`)
				);
		}
	});
	it('lists the files of a company folder as its subjects describe them', () => {
		const page = text('docs/company-folder.md');
		expect(page).toBe(withFileList(page));
	});
	it('names every file of a company folder with its columns', () => {
		const manual = text('docs/company-folder.md');
		const folder = readFolder('demo/company');
		const dimensions = [...folder.keys()].flatMap((f) => /^dimensions\/(.+)\.csv$/.exec(f)?.[1] ?? []);
		for (const [file, content] of folder) {
			const general = file
				.replace(/^dimensions\/.+\.csv$/, 'dimensions/<code>.csv')
				.replace(/^models\/\w+\.(json|rows\.csv)$/, 'models/<code>.$1')
				.replace(/^schedules\/\w+\.json$/, 'schedules/<code>.json')
				.replace(/^scenarios\/[^/]+\//, 'scenarios/<code>/')
				.replace(/\/schedules\/\w+\.(json|csv)$/, '/schedules/<schedule>.$1')
				.replace(/^ledger\/.+$/, 'ledger/<period>.csv');
			const row = manual.split('\n').find((l) => l.startsWith(`| \`${general}\``));
			expect(row, general).toBeDefined();
			// Columns of rows are those of the model or the schedule.
			if (!file.endsWith('.csv') || /rows\.csv$|\/schedules\/\w+\.csv$/.test(file)) continue;
			const heading = content.split('\n')[0].trim().split(',');
			const fixed = heading.filter(
				(h) =>
					!/^\d{4}-\d{2}$/.test(h) &&
					!dimensions.includes(h) &&
					// Attributes of members may be called anything.
					!(file.startsWith('dimensions/') && !['code', 'name', 'parent', 'retired'].includes(h))
			);
			for (const column of fixed) expect(row, `${general} ${column}`).toContain(`\`${column}\``);
		}
	});
	it('tells the limits that hold', () => {
		const operations = text('docs/operations.md');
		expect(operations).toContain(`uploads ${UPLOAD_LIMIT / 1024 / 1024} MB`);
		for (const [, name] of operations.matchAll(/`(YARDSTAVE_\w+)`/g))
			expect(
				files('src').some((f) => f.endsWith('.ts') && text(f).includes(name)),
				name
			).toBe(true);
	});
	it('has no link that leads nowhere', () => {
		for (const file of ['README.md', ...files('docs').filter((f) => f.endsWith('.md'))])
			for (const [, target] of text(file).matchAll(/\]\(([^)#]+)(?:#[^)]*)?\)/g)) {
				if (/^https?:/.test(target)) continue;
				expect(existsSync(join(dirname(file), target)), `${file}: ${target}`).toBe(true);
			}
	});
	it('shows each main view once, all of them linked', () => {
		const pictures = files('docs/screenshots');
		expect(pictures.length).toBeLessThan(20);
		for (const p of pictures) {
			expect(text('README.md')).toContain(p);
			expect(statSync(p).size).toBeLessThan(400_000);
		}
	});
	it('gives commands that exist', () => {
		const { scripts } = JSON.parse(text('package.json')) as { scripts: Record<string, string> };
		for (const file of ['README.md', ...files('docs').filter((f) => f.endsWith('.md'))])
			for (const [, name] of text(file).matchAll(/npm run ([\w:]+)/g))
				expect(scripts, `${file}: npm run ${name}`).toHaveProperty(name);
	});
});
