/** Kelpwick's assets, from which the plans' depreciation follows. */
import { ScheduleDefinition, type ScheduleRow } from '../src/lib/core/blocks/schedule/schema';
import { SCHEDULE_TEMPLATES } from '../src/lib/core/blocks/schedule/templates';
import { IN_EURO } from './people';
import { inEuro } from './rates';

const { form, description } = SCHEDULE_TEMPLATES.find((t) => t.code === 'assets')!;
/** What a row says itself is taken; else what is usual of its class. */
const BY_CLASS: Record<string, string> = {
	life: 'coalesce(life, asset_class.life)',
	method: 'coalesce(method, asset_class.method)'
};
const ACCUMULATED = '1490';
/** What is lost by disposals; gains are negative. */
const LOSS = '6740';

/** The template, with classes that give life, method and accounts. */
export const ASSETS = ScheduleDefinition.parse({
	...form,
	code: 'assets',
	name: 'Assets',
	description,
	columns: form.columns.map((c) =>
		c.code === 'class'
			? { ...c, kind: 'member', dimension: 'asset_class', required: true }
			: c.code in BY_CLASS
				? {
						code: c.code,
						label: c.label,
						kind: c.kind,
						unit: c.unit,
						choices: c.choices,
						least: c.least,
						most: c.most
					}
				: c
	),
	lines: form.lines.map((l) => ({
		...l,
		formula: l.formula!.replace(/\b(life|method)\b/g, (word) => BY_CLASS[word])
	})),
	postings: [
		{
			line: 'depreciation',
			account: { attribute: 'asset_class.charged_to' },
			other: { code: ACCUMULATED }
		},
		{ line: 'additions', account: { attribute: 'asset_class.held_at' } },
		{
			line: 'disposals',
			account: { attribute: 'asset_class.held_at' },
			lowers: true,
			other: { code: LOSS }
		},
		{ line: 'released', account: { code: ACCUMULATED }, other: { code: LOSS } },
		{ line: 'received', account: { code: LOSS }, lowers: true }
	]
});

/**
 * what | class | department | a month | life | in service. Those that are charged come to what the ledger shows month
 * by month; those without an amount are fully worn.
 */
const EXISTING = `
Hull mould, dinghy 12 | moulds | hull-shop | 1450 | 96 | 2021-04
Hull mould, dinghy 14 | moulds | hull-shop | 1300 | 96 | 2022-02
Deck moulds, dinghies | moulds | hull-shop | 1150 | 84 | 2021-10
Kayak moulds, single | moulds | hull-shop | 1000 | 84 | 2022-05
Kayak moulds, double | moulds | hull-shop | 900 | 72 | 2022-11
Paddleboard press | plant | hull-shop | 850 | 72 | 2021-09
Resin plant | plant | hull-shop | 700 | 120 | 2019-03
Extraction | plant | hull-shop | 500 | 120 | 2018-08
Mast bench | plant | rigging | 800 | 96 | 2020-06
Spar oven | plant | rigging | 700 | 84 | 2021-12
Gantry crane | plant | rigging | 600 | 120 | 2019-10
Riveting line | plant | rigging | 450 | 72 | 2022-07
Racking | plant | rigging | 350 | 120 | 2018-04
Travel lift | plant | refit-yard | 2100 | 144 | 2018-05
Spray booth | plant | refit-yard | 900 | 120 | 2019-09
Boat jacks | plant | refit-yard | 450 | 84 | 2021-05
Compressors | plant | refit-yard | 400 | 84 | 2022-03
Pressure washers | plant | refit-yard | 300 | 60 | 2023-07
Shed 2 | buildings | sites-it | 3000 | 300 | 2009-04
Slipway | buildings | sites-it | 1400 | 240 | 2012-09
Office fit-out | buildings | sites-it | 800 | 180 | 2015-01
Lorry | vehicles | sites-it | 700 | 84 | 2022-06
Pick-up | vehicles | sites-it | 650 | 60 | 2024-01
Van, workshop | vehicles | sites-it | 550 | 60 | 2023-10
Forklift | vehicles | sites-it | 450 | 96 | 2020-11
Design database | software | design-office | 520 | 60 | 2024-03
Lofting software | software | design-office | 420 | 60 | 2023-06
Material library | software | design-office | 320 | 60 | 2023-11
Measuring tools | software | design-office | 220 | 60 | 2023-01
Dock crane, Turku | plant | baltic-yard | 850 | 120 | 2020-02
Drying kiln, Turku | plant | baltic-yard | 500 | 96 | 2021-08
Planer, Turku | plant | baltic-yard | 300 | 84 | 2022-01
Hull mould, dinghy 10 | moulds | hull-shop | | 96 | 2012-03
Kayak moulds, first set | moulds | hull-shop | | 84 | 2014-06
Old slipway winch | plant | refit-yard | | 120 | 2011-05
Card index software | software | design-office | | 36 | 2017-02
`;
const WORN = 8400;

const existing = EXISTING.trim()
	.split('\n')
	.map((line, i): ScheduleRow => {
		const [what, kind, department, month, life, since] = line.split('|').map((t) => t.trim());
		const amount = IN_EURO.has(department) ? inEuro(Number(month)) : Number(month);
		return {
			id: `A${String(i + 1).padStart(3, '0')}`,
			values: {
				what,
				class: kind,
				department,
				cost: amount ? amount * Number(life) : WORN,
				life: Number(life),
				in_service: `${since}-01`,
				begins: 'same-month',
				last_month: 'charged'
			}
		};
	});

/** Bought, or sold, since the budget of this year, or planned: where nothing else is said with the life and method of their class. */
const planned: ScheduleRow[] = [
	['Tablets for fitters', 'plant', 'rigging', 5400, '2027-01-11', { life: 36 }],
	['Hull mould, dinghy 15', 'moulds', 'hull-shop', 48_000, '2027-06-01', { salvage: 2400 }],
	[
		'Van, deliveries',
		'vehicles',
		'sites-it',
		27_000,
		'2027-09-15',
		{ salvage: 3000, method: 'declining-switch', factor: 2 }
	],
	['Lift controls', 'plant', 'refit-yard', 36_000, '2028-01-10', { begins: 'half-month' }]
].map(([what, kind, department, cost, in_service, more], i) => ({
	id: `N${String(i + 1).padStart(2, '0')}`,
	values: {
		what: what as string,
		class: kind as string,
		department: department as string,
		cost: cost as number,
		in_service: in_service as string,
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

const LEDGER: Record<string, string> = {
	buildings: '140010',
	moulds: '141010',
	plant: '141020',
	vehicles: '142010',
	software: '143010'
};
/**
 * What the assets that there were stand in the books with before a month, at cost and worn, by ledger account.
 * @param abroad those of the Finnish company, in euro
 */
export function assetsHeld(month: number, abroad: boolean): [ledger: string, amount: number][] {
	const held = new Map<string, number>();
	const add = (ledger: string, amount: number) => held.set(ledger, (held.get(ledger) ?? 0) + amount);
	for (const { values } of existing) {
		if (IN_EURO.has(String(values.department)) !== abroad) continue;
		const [cost, life] = [Number(values.cost), Number(values.life)];
		const [year, first] = String(values.in_service).split('-').map(Number);
		const worn = Math.min(life, Math.max(0, month - (year * 12 + first - 1)));
		add(LEDGER[String(values.class)], cost);
		add('149010', -Math.round((cost / life) * worn * 100) / 100);
	}
	return [...held];
}
