/** Kelpwick's assets, from which the plans' depreciation follows. */
import { ScheduleDefinition, type ScheduleRow } from '../src/lib/core/blocks/schedule/schema';
import { SCHEDULE_TEMPLATES } from '../src/lib/core/blocks/schedule/templates';
import { IN_EURO } from './people';
import { inEuro } from './rates';

const { form, description } = SCHEDULE_TEMPLATES.find((t) => t.code === 'assets')!;
const CLASSES = ['buildings', 'moulds', 'plant', 'vehicles', 'software'];

/** The template, with its classes, and the account to which each asset is charged. */
export const ASSETS = ScheduleDefinition.parse({
	...form,
	code: 'assets',
	name: 'Assets',
	description,
	columns: form.columns.flatMap((c) =>
		c.code === 'class'
			? [
					{ ...c, kind: 'pick', choices: CLASSES, required: true },
					{ code: 'account', label: 'Charged to', kind: 'account', required: true }
				]
			: c
	),
	postings: [{ line: 'depreciation', account: { column: 'account' } }]
});

/**
 * what | class | department | account | a month | life | in service. Those that are charged come to what the ledger shows month
 * by month; those without an amount are fully worn.
 */
const EXISTING = `
Hull mould, dinghy 12 | moulds | hull-shop | 6710 | 1450 | 96 | 2021-04
Hull mould, dinghy 14 | moulds | hull-shop | 6710 | 1300 | 96 | 2022-02
Deck moulds, dinghies | moulds | hull-shop | 6710 | 1150 | 84 | 2021-10
Kayak moulds, single | moulds | hull-shop | 6710 | 1000 | 84 | 2022-05
Kayak moulds, double | moulds | hull-shop | 6710 | 900 | 72 | 2022-11
Paddleboard press | plant | hull-shop | 6710 | 850 | 72 | 2021-09
Resin plant | plant | hull-shop | 6710 | 700 | 120 | 2019-03
Extraction | plant | hull-shop | 6710 | 500 | 120 | 2018-08
Mast bench | plant | rigging | 6710 | 800 | 96 | 2020-06
Spar oven | plant | rigging | 6710 | 700 | 84 | 2021-12
Gantry crane | plant | rigging | 6710 | 600 | 120 | 2019-10
Riveting line | plant | rigging | 6710 | 450 | 72 | 2022-07
Racking | plant | rigging | 6710 | 350 | 120 | 2018-04
Travel lift | plant | refit-yard | 6710 | 2100 | 144 | 2018-05
Spray booth | plant | refit-yard | 6710 | 900 | 120 | 2019-09
Boat jacks | plant | refit-yard | 6710 | 450 | 84 | 2021-05
Compressors | plant | refit-yard | 6710 | 400 | 84 | 2022-03
Pressure washers | plant | refit-yard | 6710 | 300 | 60 | 2023-07
Shed 2 | buildings | sites-it | 6700 | 3000 | 300 | 2009-04
Slipway | buildings | sites-it | 6700 | 1400 | 240 | 2012-09
Office fit-out | buildings | sites-it | 6700 | 800 | 180 | 2015-01
Lorry | vehicles | sites-it | 6720 | 700 | 84 | 2022-06
Pick-up | vehicles | sites-it | 6720 | 650 | 60 | 2024-01
Van, workshop | vehicles | sites-it | 6720 | 550 | 60 | 2023-10
Forklift | vehicles | sites-it | 6720 | 450 | 96 | 2020-11
Design database | software | design-office | 6730 | 520 | 60 | 2024-03
Lofting software | software | design-office | 6730 | 420 | 60 | 2023-06
Material library | software | design-office | 6730 | 320 | 60 | 2023-11
Measuring tools | software | design-office | 6730 | 220 | 60 | 2023-01
Dock crane, Turku | plant | baltic-yard | 6710 | 850 | 120 | 2020-02
Drying kiln, Turku | plant | baltic-yard | 6710 | 500 | 96 | 2021-08
Planer, Turku | plant | baltic-yard | 6710 | 300 | 84 | 2022-01
Hull mould, dinghy 10 | moulds | hull-shop | 6710 | | 96 | 2012-03
Kayak moulds, first set | moulds | hull-shop | 6710 | | 84 | 2014-06
Old slipway winch | plant | refit-yard | 6710 | | 120 | 2011-05
Card index software | software | design-office | 6730 | | 36 | 2017-02
`;
const WORN = 8400;

const existing = EXISTING.trim()
	.split('\n')
	.map((line, i): ScheduleRow => {
		const [what, kind, department, account, month, life, since] = line.split('|').map((t) => t.trim());
		const amount = IN_EURO.has(department) ? inEuro(Number(month)) : Number(month);
		return {
			id: `A${String(i + 1).padStart(3, '0')}`,
			values: {
				what,
				class: kind,
				account,
				department,
				cost: amount ? amount * Number(life) : WORN,
				life: Number(life),
				in_service: `${since}-01`,
				method: 'straight-line',
				begins: 'same-month',
				last_month: 'charged'
			}
		};
	});

/** Bought, or sold, since the budget of this year, or planned. */
const planned: ScheduleRow[] = [
	['Tablets for fitters', 'plant', 'rigging', '6710', 5400, 36, '2027-01-11', {}],
	['Hull mould, dinghy 15', 'moulds', 'hull-shop', '6710', 48_000, 96, '2027-06-01', { salvage: 2400 }],
	[
		'Van, deliveries',
		'vehicles',
		'sites-it',
		'6720',
		27_000,
		60,
		'2027-09-15',
		{ salvage: 3000, method: 'declining-switch', factor: 2 }
	],
	['Lift controls', 'plant', 'refit-yard', '6710', 36_000, 120, '2028-01-10', { begins: 'half-month' }]
].map(([what, kind, department, account, cost, life, in_service, more], i) => ({
	id: `N${String(i + 1).padStart(2, '0')}`,
	values: {
		what: what as string,
		class: kind as string,
		account: account as string,
		department: department as string,
		cost: cost as number,
		life: life as number,
		in_service: in_service as string,
		method: 'straight-line',
		begins: 'same-month',
		last_month: 'charged',
		...(more as Record<string, string | number>)
	}
}));
/** The workshop's van goes when the new one comes; the forklift's books were put right in September. */
const SINCE: Record<string, ScheduleRow['values']> = {
	'Van, workshop': { sold: '2027-09-20', proceeds: 9500, last_month: 'not charged' },
	Forklift: { books_at: '2026-09-30', books: 32_500 }
};

/** @param since with what has come about since the budget of this year */
export const assets = (since: boolean): ScheduleRow[] =>
	since
		? [
				...existing.map((row) => ({
					...row,
					values: { ...row.values, ...SINCE[String(row.values.what)] }
				})),
				...planned
			]
		: existing;
