/** The grid in a real browser: from a keystroke to repainted totals, opening, scrolling. Prints JSON lines. */
import { ModelDefinition } from '../src/lib/core/blocks/driver-model/schema';
import type { Series } from '../src/lib/core/inputs/series';
import { companyOf, type CompanyData } from '../src/lib/server/company/subjects';
import { scenarioOf } from '../src/lib/server/company/subjects/scenarios';
import type { Person } from '../tests/support/browser';
import { at, cellAt, notePainted, opening, painted, print, since, typing, withCompany } from './browser';
import { report } from './measure';
import { typedInto, type Typed } from './keys';
import { withPeer } from './peer';
import { OURS, PEER, scrolled, type Scrolled } from './scrolling';

const APR26 = 2026 * 12 + 3;
const EMAIL = 'a@bench.example';

/** A model of so many rows and months with five formula lines, the price chained from month to month. */
function company(rows: number, months: number): CompanyData {
	const members = Array.from({ length: rows }, (_, i) => ({
		code: `p${i}`,
		name: `Product ${i}`,
		parent: null,
		retired: false,
		attributes: {}
	}));
	const definition = ModelDefinition.parse({
		code: 'sales',
		name: 'Sales',
		dimensions: ['product'],
		lines: [
			{ code: 'units', label: 'Units' },
			{
				code: 'growth',
				label: 'Price growth',
				format: 'percent',
				rollup: { time: 'average', members: 'average' }
			},
			{
				code: 'price',
				label: 'Price',
				format: 'price',
				formula: 'if(is_blank(opening(price)), 10, opening(price)) * (1 + growth)',
				rollup: { time: 'formula', members: 'weighted:units' }
			},
			{ code: 'revenue', label: 'Revenue', format: 'money', formula: 'units * price' },
			{ code: 'cost', label: 'Cost', format: 'money', formula: 'units * 6' },
			{ code: 'profit', label: 'Profit', format: 'money', formula: 'revenue - cost' },
			{
				code: 'margin',
				label: 'Margin',
				format: 'percent',
				formula: 'ratio(profit, revenue)',
				rollup: { time: 'formula', members: 'formula' }
			}
		]
	});
	const series = members.flatMap((m, i): Series[] => [
		{
			block: 'sales',
			line: 'units',
			row: m.code,
			first: APR26,
			values: Float64Array.from({ length: months }, (_, t) => ((i * 7 + t) % 50) + 1)
		},
		{
			block: 'sales',
			line: 'growth',
			row: m.code,
			first: APR26,
			values: new Float64Array(months).fill(0.002)
		}
	]);
	return companyOf({
		company: {
			name: 'Bench',
			currency: 'EUR',
			calendar: { kind: 'months', fiscalStart: 4, dayCount: 'actual' },
			decimals: 2
		},
		accounts: [
			{ code: 'sales', name: 'Sales', parent: null, type: 'revenue', rollup: 'sum', format: 'money' }
		],
		ledgerAccounts: [],
		entities: [{ code: 'e', name: 'E', currency: 'EUR' }],
		departments: [{ code: 'all', name: 'All', parent: null, entity: 'e' }],
		dimensions: [{ code: 'product', name: 'Product', members }],
		models: [{ definition, rows: members.map((m) => [m.code]) }],
		scenarios: [
			scenarioOf({
				scenario: {
					code: 'plan',
					name: 'Plan',
					kind: 'budget',
					first: APR26,
					last: APR26 + months - 1,
					owner: EMAIL
				},
				definitions: [definition],
				series
			})
		],
		entries: [],
		users: [{ email: EMAIL, name: 'A', role: 'analyst', departments: ['all'], pay: true }]
	});
}

const key = (p: number) => `${Math.floor(p / 12)}-${String((p % 12) + 1).padStart(2, '0')}`;

function withModel(rows: number, months: number, run: (p: Person, url: string) => Promise<void>) {
	const window = `from=${key(APR26)}&to=${key(APR26 + months - 1)}`;
	return withCompany(company(rows, months), EMAIL, async (p, url) => {
		await notePainted(p, `${OUR_CELL} .value:not(:empty), ${PEER_FIRST}`);
		await run(p, `${url}/drivers/sales?scenario=plan&department=all&${window}&open=units`);
	});
}

/** Pixels a frame. */
const DOWN = 180;
const ALONG = 60;

/** Scrolls our grid and the other one, in turn, and prints the better of two times each. */
async function scrolling(p: Person, ours: () => Promise<unknown>, other: () => Promise<unknown>) {
	for (const [name, down, along] of [
		['down', DOWN, 0],
		['along', 0, ALONG]
	] as const) {
		const mean = ({ frames }: Scrolled) => frames.reduce((a, b) => a + b, 0) / frames.length;
		const best = (list: Scrolled[]) => list.reduce((a, b) => (mean(a) < mean(b) ? a : b));
		const taken: { ours: Scrolled[]; other: Scrolled[] } = { ours: [], other: [] };
		for (let i = 0; i < 2; i++) {
			await ours();
			taken.ours.push(await scrolled(p, OURS, down, along));
			await other();
			taken.other.push(await scrolled(p, PEER, down, along));
		}
		const [own, peer] = [best(taken.ours), best(taken.other)];
		const what = `${down || along} pixels a frame, 10,000 × 60`;
		report(
			`grid.scroll.${name}.covered`,
			own.covered,
			1,
			'share',
			`of the cells in sight when a frame is painted, ${what}`
		);
		report(`grid.scroll.${name}.covered.other`, peer.covered, 1, 'share', 'the same of the other grid');
		print(
			`grid.scroll.${name}`,
			mean(own),
			mean(peer),
			`mean frame of 300 against the other grid’s, ${what}`
		);
		print(
			`grid.scroll.${name}.p95`,
			at(own.frames, 0.95),
			at(peer.frames, 0.95),
			'the same, 95th percentile'
		);
	}
}

const OUR_CELL = cellAt('units@p1', key(APR26 + 3));

/** Opens a page: how long until cells of its grid are there, until it answers, and until it has all its rows. */
async function openingWhole(
	p: Person,
	url: string,
	rows: number
): Promise<{ cells: number; answers: number; whole: number }> {
	const start = performance.now();
	const answers = await opening(p, url, OUR_CELL);
	const cells = await painted(p);
	const whole = await since(
		start,
		p,
		`Number(document.querySelector('[role=treegrid]').ariaRowCount) > ${rows}`
	);
	return { cells, answers, whole };
}

const OUR_TYPED: Typed = {
	cell: OUR_CELL,
	editor: 'input.typing',
	text: `document.querySelector('${OUR_CELL} .value')?.textContent`
};
const PEER_CELL = 'revogr-viewport-scroll.rgCol .rgRow[data-rgrow="1"] .rgCell[data-rgcol="3"]';
const PEER_TYPED: Typed = {
	cell: PEER_CELL,
	editor: 'revogr-edit input',
	text: `document.querySelector('${PEER_CELL}')?.textContent`
};

/** A key meets a frame early or late by chance: of a score of them the median is off by a fifth now and then. */
const TYPED = 60;

/** Keys in our grid and in the other one, in turn. */
async function keys(p: Person, url: string, peer: string) {
	await openingWhole(p, url, 2000);
	await typedInto(p, 3, OUR_TYPED);
	const own = await typedInto(p, TYPED, OUR_TYPED);
	await openingPeer(p, peer);
	await typedInto(p, 3, PEER_TYPED);
	const other = await typedInto(p, TYPED, PEER_TYPED);
	print(
		'grid.key.first',
		at(own.first, 0.5),
		at(other.first, 0.5),
		`median of ${TYPED} against the other grid’s: from the first key to the editor, 2,000 × 36`
	);
	print(
		'grid.key.enter',
		at(own.enter, 0.5),
		at(other.enter, 0.5),
		'the same: from Enter to the painted cell'
	);
}

const PEER_FIRST = '.rgRow .rgCell';
/** Opens the page of the other grid: milliseconds until cells of it are there, and until they have been painted. */
async function openingPeer(p: Person, url: string): Promise<{ there: number; cells: number }> {
	return { there: await opening(p, url, PEER_FIRST, false), cells: await painted(p) };
}

async function main() {
	await withModel(2000, 36, async (p, url) => {
		await openingWhole(p, url, 2000);
		const [cell, total] = [cellAt('units@p0', key(APR26)), `${cellAt('units', key(APR26))} .value`];
		// The first answers wait for the scenario to be loaded into the page's thread.
		await typing(p, 3, cell, total);
		const taken = await typing(p, 40, cell, total);
		print('grid.edit', at(taken, 0.95), 100, '95th percentile of 40, 2,000 × 36, 5 formula lines');
		print('grid.edit.median', at(taken, 0.5), 100, 'the same, median');
	});
	await withModel(2000, 36, (p, url) =>
		withPeer({ rows: 2000, columns: 36, height: 27, name: 200, figure: 84 }, (peer) => keys(p, url, peer))
	);
	await withModel(10_000, 60, async (p, url) => {
		await openingWhole(p, url, 10_000);
		const opened: Awaited<ReturnType<typeof openingWhole>>[] = [];
		for (let i = 0; i < 5; i++) opened.push(await openingWhole(p, url, 10_000));
		const median = (of: 'cells' | 'answers' | 'whole') =>
			at(
				opened.map((o) => o[of]),
				0.5
			);
		print(
			'grid.open.whole',
			median('whole'),
			5000,
			'median of 5, 10,000 × 60, from the address until all rows can be scrolled to'
		);
		await withPeer({ rows: 10_000, columns: 60, height: 27, name: 200, figure: 84 }, async (peer) => {
			const others: Awaited<ReturnType<typeof openingPeer>>[] = [];
			for (let i = 0; i < 5; i++) others.push(await openingPeer(p, peer));
			const of = (what: 'there' | 'cells') =>
				at(
					others.map((o) => o[what]),
					0.5
				);
			print(
				'grid.open',
				median('cells'),
				of('cells'),
				'median of 5, 10,000 × 60, from the address to the frame with the first cells, against the other grid’s'
			);
			print(
				'grid.open.answers',
				median('answers'),
				of('there'),
				'the same until it answers to keys, against the other grid’s first cells, seen from outside the page'
			);
			await scrolling(
				p,
				() => openingWhole(p, url, 10_000),
				() => openingPeer(p, peer)
			);
		});
	});
}
await main();
