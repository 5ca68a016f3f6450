/** Kelpwick's contracts, from which the plans' rent, software, insurance and the like follow. */
import { ScheduleDefinition, type ScheduleRow } from '../src/lib/core/blocks/schedule/schema';
import { SCHEDULE_TEMPLATES } from '../src/lib/core/blocks/schedule/templates';

const { form, description, byColumn } = SCHEDULE_TEMPLATES.find((t) => t.code === 'contracts')!;

export const CONTRACTS = ScheduleDefinition.parse({
	...form,
	code: 'contracts',
	name: 'Contracts',
	description,
	postings: [
		...byColumn.map(({ line, column }) => ({ line, account: { column } })),
		{ line: 'prepaid', account: { code: '1300' } },
		{ line: 'accrued', account: { code: '2010' } }
	]
});

/** what | supplier | department | account | amount of a term | start | end | paid | due | uplift | notice; no uplift: it does not renew. */
const LIST = `
Hull design suite | Facet Systems | design-office | 6300 | 23400 | 2025-06-01 | 2026-05-31 | yearly | in advance | 3 | 3
Flow simulation | Facet Systems | design-office | 6300 | 7800 | 2025-09-01 | 2026-08-31 | monthly | in advance | 2 | 1
Rendering | Cloudpost | design-office | 6300 | 4800 | 2025-04-01 | 2026-03-31 | monthly | in advance | 0 | 1
Office suite | Cloudpost | sites-it | 6300 | 18000 | 2025-04-01 | 2026-03-31 | monthly | in advance | 2 | 1
Ledger and payroll | Facet Systems | sites-it | 6300 | 16200 | 2025-07-01 | 2026-06-30 | quarterly | in advance | 3 | 3
Backup and security | Cloudpost | sites-it | 6300 | 9000 | 2025-10-01 | 2026-09-30 | yearly | in advance | 0 | 2
Help desk | Facet Systems | sites-it | 6300 | 6840 | 2026-01-01 | 2026-12-31 | quarterly | in arrears | 0 | 1
Mobile phones | Linkline | sites-it | 6320 | 26160 | 2025-03-01 | 2027-02-28 | monthly | in arrears | 0 | 3
Fibre | Linkline | sites-it | 6320 | 7500 | 2025-05-01 | 2026-04-30 | quarterly | in advance | 0 | 1
Liability insurance | Anchor Mutual | finance-people | 6330 | 35400 | 2025-04-01 | 2026-03-31 | yearly | in advance | 4 | 1
Property insurance | Anchor Mutual | sites-it | 6330 | 45600 | 2025-04-01 | 2026-03-31 | yearly | in advance | 4 | 1
Marine insurance | Anchor Mutual | harbour-club | 6330 | 14400 | 2025-05-01 | 2026-04-30 | yearly | in advance | 3 | 1
Property insurance, Turku | Pohja Mutual | baltic-yard | 6330 | 9360 | 2025-01-01 | 2025-12-31 | yearly | in advance | 2 | 1
Yard lease | Kelp Estates | sites-it | 6100 | 1188000 | 2022-10-01 | 2027-09-30 | quarterly | in advance | 8 | 12
Moorings | Harbour Commission | harbour-club | 6100 | 78000 | 2025-04-01 | 2026-03-31 | quarterly | in advance | 2 | 6
Yard at Turku | Turku Port | baltic-yard | 6100 | 183600 | 2024-07-01 | 2027-06-30 | monthly | in advance | 5 | 6
Cleaning, offices | Brightway | sites-it | 6150 | 16800 | 2025-04-01 | 2026-03-31 | monthly | in arrears | 0 | 1
Cleaning, workshops | Brightway | sites-it | 6150 | 11280 | 2025-04-01 | 2026-03-31 | monthly | in arrears | 0 | 1
Patrol | Nightwatch | sites-it | 6170 | 14640 | 2025-08-01 | 2026-07-31 | quarterly | in arrears | 0 | 2
Van 1 | Fleetmoor | sites-it | 6520 | 25200 | 2025-04-01 | 2028-03-31 | monthly | in advance | | 0
Van 2 | Fleetmoor | sites-it | 6520 | 24840 | 2024-07-01 | 2027-06-30 | monthly | in advance | | 0
Van 3 | Fleetmoor | sites-it | 6520 | 24480 | 2025-11-01 | 2028-10-31 | monthly | in advance | | 0
Van 4 | Fleetmoor | sites-it | 6520 | 25200 | 2026-02-01 | 2029-01-31 | monthly | in advance | | 0
Audit | Penrose Ellery | finance-people | 6350 | 26400 | 2025-04-01 | 2026-03-31 | once | in arrears | 0 | 3
`;
/** Agreed since the budget of this year. */
const NEW = `
Boat lift hire | Solent Engineers | harbour-club | 6140 | 3600 | 2026-11-01 | 2027-10-31 | quarterly | in advance | 0 | 2
Van 5 | Fleetmoor | sites-it | 6520 | 26280 | 2027-07-01 | 2030-06-30 | monthly | in advance | | 0
`;

function rowsOf(list: string, from: number): ScheduleRow[] {
	return list
		.trim()
		.split('\n')
		.map((line, i) => {
			const [what, supplier, department, account, amount, start, end, paid_how, due, uplift, notice] = line
				.split('|')
				.map((t) => t.trim());
			return {
				id: `C${String(from + i).padStart(3, '0')}`,
				values: {
					what,
					supplier,
					department,
					account,
					amount: Number(amount),
					start,
					end,
					paid_how,
					due,
					renews: uplift !== '',
					...(Number(uplift) ? { uplift: Number(uplift) / 100 } : {}),
					...(Number(notice) ? { notice: Number(notice) } : {})
				}
			};
		});
}

/** @param planned with those that were agreed since the budget of this year */
export const contracts = (planned: boolean): ScheduleRow[] => {
	const known = rowsOf(LIST, 1);
	return [...known, ...(planned ? rowsOf(NEW, known.length + 1) : [])];
};
