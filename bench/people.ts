/**
 * Fifty people at once: each opens plan pages, types with preview, saves, traces and reads variances, with about a
 * second's pause between and a stream of events open. Every kind's 95th percentile beside that of one person alone in the same run.
 * Prints JSON lines. Needs the built application. `-- <people> <seconds>` takes other numbers.
 */
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { monthCalendar } from '../src/lib/core/calendar/calendar';
import { readFolder } from '../src/lib/server/transfer/folder';
import { readCompany, storeCompany } from '../src/lib/server/company/subjects';
import { openDatabase } from '../src/lib/server/platform/db/connect';
import { Client, serve, type App } from '../tests/support/app';
import { report } from './measure';

const [PEOPLE, SECONDS] = [Number(process.argv[2] ?? 50), Number(process.argv[3] ?? 60)];
/** People pause between half a second and one and a half. */
const PAUSE_MS = 1000;
const GOAL = 6;
const SCENARIO = 'fy28-budget';
const { key } = monthCalendar(4);
const FROM = 2027 * 12 + 3;
/** Departments that are still planning. */
const PLACES: [user: string, department: string][] = [
	['tom.aldous', 'dealer-sales'],
	['maren.holt', 'rigging'],
	['hugh.penrose', 'refit-yard'],
	['nora.whitlock', 'finance-people'],
	['eero.lahti', 'baltic-sales'],
	['maren.holt', 'direct-web']
];

type Kind = 'page' | 'preview' | 'save' | 'trace' | 'variance';
const KINDS: readonly Kind[] = ['page', 'preview', 'save', 'trace', 'variance'];

/** Milliseconds of each thing done, by kind, and what went wrong. */
interface Log {
	taken: Record<Kind, number[]>;
	errors: string[];
}
const newLog = (): Log => ({
	taken: { page: [], preview: [], save: [], trace: [], variance: [] },
	errors: []
});

interface Row {
	account: string;
	typed: (number | null)[] | null;
	open: boolean;
}

/** One person in one department, with a cell that nobody else types into. */
class Worker {
	private before: number | null = null;
	private account = '';
	private period = FROM;
	private readonly stream = new AbortController();

	private constructor(
		private readonly client: Client,
		private readonly department: string,
		private readonly number: number
	) {}

	static async start(app: App, number: number): Promise<Worker> {
		const [user, department] = PLACES[number % PLACES.length];
		const client = await Client.signIn(app, `${user}@kelpwick.example`);
		const worker = new Worker(client, department, number);
		await worker.settle();
		return worker;
	}
	private async settle(): Promise<void> {
		const window = 'from=2027-04&to=2028-03';
		const { rows } = await this.client.get<{ rows: Row[] }>(
			`plan?scenario=${SCENARIO}&department=${this.department}&${window}`
		);
		const own = rows.filter((r) => r.typed && r.open);
		if (!own.length) throw new Error(`Nothing can be typed in ${this.department}.`);
		const turn = Math.floor(this.number / PLACES.length);
		const row = own[turn % own.length];
		const month = Math.floor(turn / own.length) % 12;
		this.account = row.account;
		this.period = FROM + month;
		this.before = row.typed![month];
		void this.listen();
	}
	private async listen(): Promise<void> {
		try {
			const answer = await this.client.fetch(
				`/api/v1/events?scenario=${SCENARIO}&tab=t${this.number}&at=/plan`,
				{ signal: this.stream.signal }
			);
			const reader = answer.body!.getReader();
			while (!(await reader.read()).done);
		} catch {
			// It ends with the person.
		}
	}
	leave(): void {
		this.stream.abort();
	}

	private ask(kind: Kind): Promise<Response> {
		const { department, account, period } = this;
		const cell = { block: 'accounts', line: account, row: department, period: key(period) };
		const post = (path: string, body: unknown) =>
			this.client.fetch(`/api/v1/${path}`, {
				method: 'POST',
				headers: { 'content-type': 'application/json' },
				body: JSON.stringify(body)
			});
		const value = Math.round(1000 + Math.random() * 1e5);
		switch (kind) {
			case 'page':
				return this.client.fetch(
					`/plan?scenario=${SCENARIO}&department=${department}&from=2027-04&to=2028-03`
				);
			case 'preview':
				return post('plan/preview', {
					scenario: SCENARIO,
					from: '2027-04',
					to: '2028-03',
					edits: [{ ...cell, value }],
					shown: [{ department, accounts: null }]
				});
			case 'save': {
				const edit = { ...cell, before: this.before, value };
				this.before = value;
				return post(`scenarios/${SCENARIO}/cells`, { edits: [edit] });
			}
			case 'trace':
				return post('trace', {
					scenario: SCENARIO,
					ref: { kind: 'account', account, department, from: key(period), to: key(period) }
				});
			case 'variance':
				return this.client.fetch(
					`/api/v1/variance?scenario=actuals&against=last-year&department=${department}&period=2026-09`
				);
		}
	}

	/** Does one thing after the other until the time is over. */
	async work(until: number, log: Log): Promise<void> {
		for (let n = this.number; Date.now() < until; n++) {
			const kind = KINDS[n % KINDS.length];
			const start = performance.now();
			const answer = await this.ask(kind);
			const text = await answer.text();
			log.taken[kind].push(performance.now() - start);
			if (answer.status !== 200) log.errors.push(`${kind} ${answer.status} ${text.slice(0, 200)}`);
			await new Promise((r) => setTimeout(r, PAUSE_MS * (0.5 + Math.random())));
		}
	}
}

const p95 = (list: readonly number[]) =>
	[...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * 0.95))];

/** Resident bytes of the server (Linux). */
const memoryOf = (app: App) =>
	Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${app.process.pid}/status`, 'utf8'))![1]) / 1024;

const home = mkdtempSync(join(tmpdir(), 'bench-'));
const database = join(home, 'bench.sqlite');
const db = await openDatabase(database);
await storeCompany(db, readCompany(readFolder('demo/company')));
await db.destroy();
const app = await serve(home, database, {});
try {
	const people: Worker[] = [];
	for (let i = 0; i < PEOPLE; i++) people.push(await Worker.start(app, i));
	// What is compiled and kept at the first time is so for both.
	await people[0].work(Date.now() + 10_000, newLog());
	const alone = newLog();
	await people[0].work(Date.now() + SECONDS * 1000, alone);
	const crowd = newLog();
	const until = Date.now() + SECONDS * 1000;
	const memory: number[] = [];
	const watching = setInterval(() => memory.push(memoryOf(app)), 1000);
	// All open their first page in the same moment.
	await Promise.all(people.map((w) => w.work(until, crowd)));
	clearInterval(watching);
	people.forEach((w) => w.leave());
	for (const kind of KINDS)
		report(
			`people.${kind}`,
			p95(crowd.taken[kind]),
			p95(alone.taken[kind]),
			'ms',
			`95th percentile of ${crowd.taken[kind].length}, beside one person alone; goal ${GOAL}`
		);
	const half = memory.length >> 1;
	report(
		'people.memory',
		Math.max(...memory.slice(half)),
		Math.max(...memory.slice(0, half)),
		'MB',
		'most resident in the second half, beside the first; goal 1.1'
	);
	console.log(
		JSON.stringify({ metric: 'people.errors', ours: crowd.errors.length, first: crowd.errors.slice(0, 3) })
	);
} finally {
	await app.stop();
	rmSync(home, { recursive: true, force: true });
}
