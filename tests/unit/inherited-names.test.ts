/** A company whose codes are the names that every object has: nothing looks any of them up where it should not. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { readFolder, saveFolder } from '../../src/lib/server/transfer/folder';
import { loadCompany } from '../../src/lib/server/transfer/load';
import { readCompany, readStored, writeCompany } from '../../src/lib/server/company/subjects';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import { readDepartmentPlan } from '../../src/lib/server/accounts/department-plan';
import { previewFeed, runFeed } from '../../src/lib/server/ledger/feed';
import { readDimensions } from '../../src/lib/server/models/members';
import { readModel } from '../../src/lib/server/models/models';
import { varianceReport } from '../../src/lib/server/reports/variance';
import { moveSubmission, listRounds, openRound } from '../../src/lib/server/rounds/submissions';
import { PRAXIS, userOf } from '../support/company';

/** Codes of the second company → what they are called here. */
const NAMES: [RegExp, string][] = [
	[/(?<![\w-])lab(?![\w-])/g, 'constructor'],
	[/(?<![\w-])fees(?![\w-])/g, 'valueOf'],
	[/(?<![\w-])labor(?![\w-])/g, 'toString'],
	[/(?<![\w-])group(?![\w-])/g, 'hasOwnProperty'],
	[/(?<![\w-])insured(?![\w-])/g, 'isPrototypeOf'],
	[/(?<![\w-])payer(?![\w-])/g, 'constructor'],
	[/(?<![\w-])visits(?![\w-])/g, 'toLocaleString'],
	[/(?<![\w-])patients(?![\w-])/g, 'propertyIsEnumerable'],
	[/(?<![\w-])f2(?![\w-])/g, 'constructor'],
	[/E-110/g, 'toString']
];
const renamed = (text: string) => NAMES.reduce((t, [from, to]) => t.replace(from, to), text);
const W = { from: 2026 * 12, to: 2026 * 12 + 11 };

it('gives the figures of the same company under other names, on every page, in and out of a folder', async () => {
	const home = mkdtempSync(join(tmpdir(), 'names-'));
	try {
		const dbs = [];
		for (const name of [(t: string) => t, renamed]) {
			const files = new Map([...readFolder(PRAXIS)].map(([f, text]) => [name(f), name(text)]));
			const db = await openDatabase(':memory:');
			await loadCompany(db, readCompany(files));
			const ana = await userOf(db, 'ana');
			const department = name('labor');
			const scenario = name('f2');
			const content = `date,account,department,amount,${name('group')}\n2026-03-05,${name('E-110')},${department},-12.5,${name('insured')}\n2026-03-05,constructor,${department},5,\n`;
			const { options } = await previewFeed({ db, user: ana }, 'm.csv', content, null, {});
			const preview = await previewFeed({ db, user: ana }, 'm.csv', content, options, {});
			await runFeed({ db, user: ana }, 'm.csv', content, options, 2026 * 12 + 2, {});
			const round = await openRound(
				{ db, user: ana },
				{
					name: 'R',
					scenario,
					due: '2026-12-01',
					instructions: '',
					departments: [department]
				}
			);
			await moveSubmission({ db, user: ana }, { round, department }, 'submit', '', null);
			dbs.push({
				files: writeCompany(await readStored(db)),
				shown: [
					await readDepartmentPlan({ db, user: ana }, scenario, department, W.from, W.to),
					await readModel(
						{ db, user: ana },
						{
							scenario,
							model: name('visits'),
							...W,
							rows: [name('group'), 'line'],
							where: { [`${name('group')}.${name('payer')}`]: 'insurer' }
						}
					),
					await varianceReport(
						{ db, user: ana },
						{
							scenario,
							against: 'last-year',
							department: 'all',
							period: W.from,
							span: 'year',
							threshold: { amount: 0, percent: 0 }
						}
					),
					await readDimensions({ db, user: ana }),
					(await listRounds({ db, user: ana }, '2026-11-16'))[0].submissions[0].changed,
					preview.accounts.map((a) => [a.account, ...Object.values(a.amounts), a.suggestion?.account])
				]
			});
			if (name === renamed) await saveFolder(db, home);
			await db.destroy();
		}
		const [plain, odd] = dbs;
		const figures = (shown: unknown) =>
			JSON.stringify(shown, (key, value) => (key === 'version' || key === 'names' ? undefined : value));
		// Lists that are in the order of codes are in another one under other names.
		const inOrder = (text: string) => text.split('').sort().join('');
		expect(inOrder(figures(odd.shown))).toBe(inOrder(renamed(figures(plain.shown))));
		const again = await openDatabase(':memory:');
		await loadCompany(again, readCompany(readFolder(home)));
		expect(writeCompany(await readStored(again))).toEqual(odd.files);
		await again.destroy();
	} finally {
		rmSync(home, { recursive: true, force: true });
	}
});

it('refuses the one name that no object can have as a key', () => {
	const files = readFolder(PRAXIS);
	files.set('dimensions/group.csv', files.get('dimensions/group.csv')!.replace('payer', '__proto__'));
	expect(() => readCompany(files)).toThrow(
		expect.objectContaining({
			faults: expect.arrayContaining([expect.objectContaining({ message: 'a column has another name' })])
		})
	);
});
