/** Kelpwick's plans: typed inputs and bases of its scenarios. */
import { ACCOUNTS_BLOCK } from '../src/lib/core/engine/spec';
import type { Basis, BasisEntry } from '../src/lib/core/inputs/basis';
import { rowKey } from '../src/lib/core/engine/row-key';
import type { Series } from '../src/lib/core/inputs/series';
import type { ScheduleRow } from '../src/lib/core/blocks/schedule/schema';
import type { LedgerMonth } from './ledger';
import { staffInputs } from './staff';
import { seeded } from './random';
import { cells, DISCOUNT, expectedUnits, priceIndex, season } from './trade';

export const rows = cells.map((c) => [c.item.code, c.channel, c.region]);
export const REGIONS = ['south', 'lakes', 'islands', 'baltic'];
/** The index's first month: April 2026. */
const BASE = 2026 * 12 + 3;
/** March 2027. */
const MAR = BASE + 11;

const series = (
	block: string,
	line: string,
	row: string,
	first: number,
	last: number,
	at: (period: number) => number
): Series => ({
	block,
	line,
	row,
	first,
	values: Float64Array.from({ length: last - first + 1 }, (_, i) => at(first + i))
});

export interface Outlook {
	first: number;
	last: number;
	/** Demand against what the trade expects. */
	demand: number;
	/** Kayaks on the Lakes at dealers. */
	lakes: number;
	materialInflation: number;
	/** Rows of the schedule of people. */
	staff: readonly ScheduleRow[];
	seed: number;
}

/** Inputs of all driver models and the typed accounts. Driver values stand from April 2026 on. */
export function inputs(o: Outlook): Series[] {
	const random = seeded(o.seed);
	const list: Series[] = [
		series('assumptions', 'price_rise', '', BASE, o.last, (p) =>
			p > BASE && (p - BASE) % 12 === 0 ? 0.03 : 0
		),
		series('assumptions', 'material_inflation', '', BASE, o.last, (p) =>
			p === BASE ? 0 : o.materialInflation
		),
		series('harbour_club', 'joiners', '', o.first, o.last, (p) => Math.round(34 * season(p))),
		series('harbour_club', 'leaving_share', '', BASE, o.last, () => 0.038),
		series('harbour_club', 'monthly_fee', '', BASE, o.last, () => 55.2)
	];
	for (const cell of cells) {
		const row = rowKey([cell.item.code, cell.channel, cell.region]);
		const slump =
			cell.item.family === 'kayaks' && cell.channel === 'dealer' && cell.region === 'lakes' ? o.lakes : 1;
		const own = random.around(0.08) * o.demand * slump;
		list.push(
			series('boat_sales', 'units', row, o.first, o.last, (p) => Math.round(expectedUnits(cell, p) * own)),
			series('boat_sales', 'list_price', row, BASE, o.last, () =>
				Math.round(cell.item.price * priceIndex(BASE))
			),
			series('boat_sales', 'discount', row, BASE, o.last, () => DISCOUNT[cell.channel]),
			series(
				'boat_sales',
				'unit_material',
				row,
				BASE,
				o.last,
				() => Math.round(cell.item.price * cell.item.material * 1.06 * 100) / 100
			)
		);
	}
	REGIONS.forEach((region, i) =>
		list.push(
			series('dealer_visits', 'order_size', region, BASE, o.last, () => [9, 7, 6, 8][i]),
			series('dealer_visits', 'close_rate', region, BASE, o.last, () => [0.55, 0.5, 0.45, 0.5][i]),
			series('dealer_visits', 'visit_share', region, BASE, o.last, () => [0.35, 0.4, 0.3, 0.45][i]),
			series('dealer_visits', 'cost_per_visit', region, BASE, o.last, () => [85, 110, 190, 160][i])
		)
	);
	list.push(...staffInputs(o.staff, o.first, o.last));
	list.push(
		series(
			ACCOUNTS_BLOCK,
			'7000',
			'finance-people',
			o.first,
			o.last,
			(p) => 3850 - 12 * Math.max(0, p - BASE)
		)
	);
	// Typed over a basis: the shows that Dealer Sales has booked, a moving of the web shop.
	const booked: [string, string, Record<number, number>][] = [
		['dealer-sales', '6210', { [MAR - 2]: 9800, [MAR - 1]: 6400, [MAR + 10]: 9800, [MAR + 11]: 6400 }],
		['direct-web', '6310', { [MAR - 4]: 7200 }]
	];
	for (const [department, account, amounts] of booked) {
		const within = Object.keys(amounts)
			.map(Number)
			.filter((p) => p >= o.first && p <= o.last);
		if (within.length)
			list.push(
				series(
					ACCOUNTS_BLOCK,
					account,
					department,
					Math.min(...within),
					Math.max(...within),
					(p) => amounts[p] ?? NaN
				)
			);
	}
	return list.sort(inOrder);
}
const compare = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0);
/** As a folder lists them. */
export const inOrder = (a: Series, b: Series) =>
	compare(a.block, b.block) || compare(a.line, b.line) || compare(a.row, b.row);

/** Accounts that come from a driver model wherever they are posted. */
const MODELLED = /^(40[0-3]0|50[0-3]0|9000)$/;
/** Those that people cost. */
const STAFFED = new Set(['5100', '5120', '6000', '6010', '9020']);
const TYPED = new Set(['7000']);

/**
 * A basis for every account and department with history: mostly last year with a rise.
 * @param posted account and department that lists of contracts and assets post to
 */
export function bases(
	months: readonly LedgerMonth[],
	rise: number,
	posted: ReadonlySet<string>
): BasisEntry[] {
	const used = new Set<string>();
	for (const { entries } of months)
		for (const e of entries)
			if (/^[4-79]/.test(e.ledgerAccount)) used.add(`${e.ledgerAccount.slice(0, 4)} ${e.department}`);
	const list: BasisEntry[] = [];
	for (const key of [...used].sort()) {
		if (posted.has(key)) continue;
		const [account, department] = key.split(' ');
		const basis = basisFor(account, department, rise);
		if (basis) list.push({ account, department, basis });
	}
	return list;
}

function basisFor(account: string, department: string, rise: number): Basis | null {
	if (MODELLED.test(account) || STAFFED.has(account) || TYPED.has(account)) return null;
	if (account === '4100' || account === '9010') return null;
	if (account === '6250') return null;
	if (account === '6020') return { kind: 'percent-of', percent: 0.05, account: '6000' };
	if (account === '4040') return { kind: 'percent-of', percent: 0.02, account: '4010' };
	if (account === '6300' || account === '6320' || account === '6330' || account === '6100')
		return { kind: 'run-rate', months: 3 };
	if (account === '6620' && department === 'design-office') return { kind: 'run-rate', months: 6 };
	return { kind: 'last-year', percent: /^4/.test(account) ? rise + 0.02 : rise };
}
