/** Figures of a schedule as they would be with what is typed and not saved yet. */
import type { Calendar } from '../../core/calendar/calendar';
import type { ScheduleChanges, ScheduleEdits } from '../../core/views/schedule-changes';
import type { ScheduleQuery } from '../../core/views/schedule-view';
import { post } from '../kit/api';
import { STAYS, whenIdle } from '../kit/idle';
import { Newest } from '../kit/newest';
import { ScenarioThread, type Calculated } from '../scenarios/scenario-thread';
import type { SchedulePreviewWork } from './preview.worker';
import { changesFrom, type WrittenChanges } from './written';

export const scheduleThread = () =>
	new ScenarioThread<SchedulePreviewWork>(
		() => new Worker(new URL('./preview.worker.ts', import.meta.url), { type: 'module' })
	);

/** What is looked at. */
export interface ScheduleOf {
	/** Its code. */
	scenario: string;
	/** The schedule’s last block, which all its others lead to; null for the scenario as a whole. */
	block: string | null;
	/** Changes whenever the saved figures may have changed. */
	version: unknown;
	/** Its last span is the whole window. */
	query: ScheduleQuery;
	/** The company’s. */
	calendar: Calendar;
}

export class ScheduleLive {
	/** Null while nothing is typed, or until the first answer. */
	changes: ScheduleChanges | null = $state.raw(null);

	readonly #thread = scheduleThread();
	readonly #newest = new Newest();
	#wanted = 0;
	/** The version at which rows came to stand so that the whole scenario is needed. */
	#tooSmallAt: unknown = null;
	/** Calls off what was to begin once the page is idle. */
	#callOff = () => {};

	/** Asks for the figures with these edits; with none it makes the thread ready, so that later answers do not wait. */
	show(of: ScheduleOf, edits: ScheduleEdits): void {
		const wanted = ++this.#wanted;
		this.#callOff();
		if (edits.rows.length + edits.months.length === 0) {
			this.#newest.drop();
			this.changes = null;
			this.#callOff = whenIdle(
				() => this.#thread.prepare(this.#whatOf(of), of.version, (work) => work.changes(edits, of.query)),
				STAYS
			);
			return;
		}
		this.#newest.run(async () => {
			try {
				const changes = await this.#ask(of, edits);
				if (wanted === this.#wanted) this.changes = changes;
			} catch {
				// Without it the saved figures stand; saving calculates anew, and says what is wrong.
				this.close();
				this.changes = null;
			}
		});
	}

	/** The thread answers once it has what it needs; until then the server does, which keeps the scenario calculated. */
	async #ask(of: ScheduleOf, edits: ScheduleEdits): Promise<ScheduleChanges | null> {
		const ask = (what: Calculated) =>
			this.#thread.askOnceReady(
				what,
				of.version,
				(work) => work.changes(edits, of.query),
				() => answeredByServer(of, edits)
			);
		const what = this.#whatOf(of);
		const changes = await ask(what);
		if (changes || what.model === undefined) return changes;
		this.#tooSmallAt = of.version;
		return ask(this.#whatOf(of));
	}
	#whatOf({ scenario, block, version }: ScheduleOf): Calculated {
		return block !== null && this.#tooSmallAt !== version ? { scenario, model: block } : { scenario };
	}

	/** Ends the thread. */
	close(): void {
		this.#callOff();
		this.#thread.close();
	}
}

/** Null where the server does not try it. */
async function answeredByServer(
	{ scenario, query, calendar }: ScheduleOf,
	{ rows, months }: ScheduleEdits
): Promise<ScheduleChanges | null> {
	const { schedule, spans, ...arrangement } = query;
	const window = spans[spans.length - 1];
	const { changes } = await post<{ changes: WrittenChanges | null }>(
		`schedules/${encodeURIComponent(schedule)}/preview`,
		{
			...arrangement,
			scenario,
			from: calendar.key(window.from),
			to: calendar.key(window.to),
			changes: rows,
			edits: months.map((cell) => ({ ...cell, period: calendar.key(cell.period) }))
		}
	);
	return changes && changesFrom(changes, calendar);
}
