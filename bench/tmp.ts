/** The grid in a real browser: from a keystroke to repainted totals, opening, scrolling. Prints JSON lines. */
import { ModelDefinition } from '../src/lib/core/blocks/driver-model/schema';
import type { Series } from '../src/lib/core/inputs/series';
import { companyOf, type CompanyData } from '../src/lib/server/company/subjects';
import { scenarioOf } from '../src/lib/server/company/subjects/scenarios';
import type { Person } from '../tests/support/browser';
import { at, cellAt, opening, print, since, typing, withCompany } from './browser';
import { report } from './measure';

const APR26 = 2026 * 12 + 3;
const EMAIL = 'a@bench.example';

/** A model of so many rows and months with five formula lines, the price chained from month to month. */
function company(rows: number, months: number): CompanyData {
	const members = Array.from({ length: rows }, (_, i) => ({
		code: `p${i}`,
		name: `Product ${i}`,
		parent: null,
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
		entities: [{ code: 'e', name: 'E' }],
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
		users: [{ email: EMAIL, name: 'A', role: 'analyst', departments: ['all'] }]
	});
}

const key = (p: number) => `${Math.floor(p / 12)}-${String((p % 12) + 1).padStart(2, '0')}`;

function withModel(rows: number, months: number, run: (p: Person, url: string) => Promise<void>) {
	const window = `from=${key(APR26)}&to=${key(APR26 + months - 1)}`;
	return withCompany(company(rows, months), EMAIL, (p, url) =>
		run(p, `${url}/drivers/sales?scenario=plan&department=all&${window}&open=units`)
	);
}

/**
 * In the page: scrolls by so many pixels a frame, and says how long each frame took and which share of the cells in sight
 * was there when it had been painted.
 */
const SCROLLING = `
const [frames, down, along, done] = arguments;
const grid = document.querySelector('[role=treegrid]');
const head = grid.querySelector('.head');
const taken = [];
const covered = [];
const row0 = grid.querySelector('.body > .row');
const height = row0.getBoundingClientRect().height;
const pinned = row0.querySelector('.pinned').getBoundingClientRect().width;
const sight = { down: grid.clientHeight - head.getBoundingClientRect().height, along: grid.clientWidth - pinned };
const share = (from, size, low, room) => Math.max(0, Math.min(from + size, low + room) - Math.max(from, low)) / room;
// By what is written in the page, so that looking lays nothing out.
const look = () => {
	const [top, left] = [grid.scrollTop, grid.scrollLeft];
	let rows = 0;
	let columns = 0;
	for (const row of grid.querySelectorAll('.body > .row')) rows += share(Number(row.dataset.r) * height, height, top, sight.down);
	for (const cell of grid.querySelectorAll('.body > .row:first-child > [role=gridcell]'))
		columns += share(parseFloat(cell.style.left), parseFloat(cell.style.width), left + pinned, sight.along);
	covered.push(Math.min(1, rows) * Math.min(1, columns));
};
const after = new MessageChannel();
let last = performance.now();
let n = 0;
let sign = 1;
const step = (now) => {
	taken.push(now - last);
	last = now;
	if (++n > frames) return done({ taken: taken.slice(1), covered });
	grid.scrollTop += down;
	const before = grid.scrollLeft;
	grid.scrollLeft += along * sign;
	if (along && grid.scrollLeft === before) sign = -sign;
	after.port2.postMessage(null);
	requestAnimationFrame(step);
};
after.port1.onmessage = look;
requestAnimationFrame(step);`;

async function scrolling(p: Person, name: string, down: number, along: number) {
	await p.driver.executeScript(`document.querySelector('[role=treegrid]').scrollTo(0, 0)`);
	const { taken, covered }: { taken: number[]; covered: number[] } = await p.driver.executeAsyncScript(
		SCROLLING,
		300,
		down,
		along
	);
	const mean = (list: number[]) => list.reduce((a, b) => a + b, 0) / list.length;
	report(
		`grid.scroll.${name}.covered`,
		mean(covered),
		1,
		'share',
		'of the cells in sight, when a frame is painted'
	);
	print(
		`grid.scroll.${name}`,
		mean(taken),
		20,
		`mean frame of 300, ${down || along} pixels a frame, 10,000 × 60`
	);
	print(`grid.scroll.${name}.p95`, at(taken, 0.95), 20, 'the same, 95th percentile');
}

/** Opens a page: how long until its grid answers, and until it has all its rows. */
async function openingWhole(
	p: Person,
	url: string,
	rows: number
): Promise<{ answers: number; whole: number }> {
	const start = performance.now();
	const answers = await opening(p, url, '[data-row="units@p0"]');
	const whole = await since(
		start,
		p,
		`Number(document.querySelector('[role=treegrid]').ariaRowCount) > ${rows}`
	);
	return { answers, whole };
}


async function main() {
	await withModel(10_000, 60, async (p, url) => {
		await openingWhole(p, url, 10_000);
		const d = p.driver as unknown as { sendAndGetDevToolsCommand(c: string, a?: object): Promise<any>; sendDevToolsCommand(c: string, a?: object): Promise<void> };
		await d.sendDevToolsCommand('Performance.enable', {});
		const metrics = async () => Object.fromEntries((await d.sendAndGetDevToolsCommand('Performance.getMetrics', {})).metrics.map((m: any) => [m.name, m.value]));
		for (const [name, down, along] of [['down', 180, 0], ['along', 0, 60]] as const) {
			const a = await metrics();
			if (process.env.PROF) { await d.sendDevToolsCommand('Profiler.enable', {}); await d.sendDevToolsCommand('Profiler.start', {}); }
			await scrolling(p, name, down, along);
			if (process.env.PROF) { const { profile } = await d.sendAndGetDevToolsCommand('Profiler.stop', {}); (await import('node:fs')).writeFileSync(`/tmp/prof/${name}.cpuprofile`, JSON.stringify(profile)); }
			const b = await metrics();
			for (const k of ['Timestamp', 'TaskDuration', 'ScriptDuration', 'LayoutDuration', 'RecalcStyleDuration', 'LayoutCount', 'RecalcStyleCount']) console.log(name, k, ((b[k] - a[k]) * (k.endsWith('Count') ? 1 : 1000) / 300).toFixed(2));
		}
	});
}
await main();
