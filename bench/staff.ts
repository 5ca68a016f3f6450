/**
 * Typing into a schedule of 5,000 people in a real browser: from Enter to the foot that is painted anew. The demo company, whose
 * people are repeated until there are so many.
 */
import { readFolder } from '../src/lib/server/transfer/folder';
import { readCompany, type CompanyData } from '../src/lib/server/company/subjects';
import { at, cellAt, opening, print, typing, withCompany } from './browser';

const PEOPLE = 5000;
const TIMES = 40;
const EMAIL = 'maren.holt@kelpwick.example';
const ADDRESS =
	'plan/schedules/staff?scenario=fy28-budget&department=kelpwick&from=2027-04&to=2028-03&columns=name,annual';

/** The company with each of its people so often, in the same departments. */
function crowded(data: CompanyData, people: number): CompanyData {
	return {
		...data,
		scenarios: data.scenarios.map((s) => ({
			...s,
			scheduleRows: s.scheduleRows.map((held) => {
				if (held.schedule !== 'staff' || !held.rows.length) return held;
				const copies = Math.ceil(people / held.rows.length);
				const rows = Array.from({ length: copies }, (_, k) =>
					held.rows.map((row) => (k === 0 ? row : { ...row, id: `${row.id}-${k}` }))
				).flat();
				return { ...held, rows: rows.slice(0, people) };
			})
		}))
	};
}

const data = crowded(readCompany(readFolder('demo/company')), PEOPLE);
await withCompany(data, EMAIL, async (p, url) => {
	const cell = cellAt('K001', 'annual');
	await opening(p, `${url}/${ADDRESS}`, `${cell} .value`);
	const total = '.together';
	// The first one waits for the rows to be loaded into the page's thread.
	const first = await typing(p, 1, cell, total);
	const times = await typing(p, TIMES, cell, total);
	print('schedule.grid.edit', at(times, 0.95), 100, `95th percentile of ${TIMES}, ${PEOPLE} people`);
	print('schedule.grid.edit.first', first[0], 100, 'the first, at once after opening');
});
