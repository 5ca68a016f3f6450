/** Figures of a schedule as they would be with what is typed and not saved yet. */
import type { Remote } from 'comlink';
import type { ScheduleChanges, ScheduleEdits } from '../../core/views/schedule-preview';
import type { ScheduleQuery } from '../../core/views/schedule-view';
import { STAYS, whenIdle } from '../kit/idle';
import { Newest } from '../kit/newest';
import { ScenarioThread } from '../scenarios/scenario-thread';
import type { SchedulePreviewWork } from './preview.worker';

export const scheduleThread = () =>
	new ScenarioThread<SchedulePreviewWork>(
		() => new Worker(new URL('./preview.worker.ts', import.meta.url), { type: 'module' })
	);

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

	/**
	 * Asks for the figures with these edits; with none it makes the thread ready, so that the first answer does not wait.
	 * @param block the schedule’s last block, which all its others lead to; null for the scenario as a whole
	 * @param version changes whenever the saved figures may have changed
	 */
	show(
		scenario: string,
		block: string | null,
		version: unknown,
		edits: ScheduleEdits,
		query: ScheduleQuery
	): void {
		const wanted = ++this.#wanted;
		const nothing = edits.rows.length + edits.months.length === 0;
		const ask = () =>
			this.#newest.run(async () => {
				try {
					const changes = await this.#ask(scenario, block, version, (work) => work.changes(edits, query));
					if (wanted === this.#wanted && !nothing) this.changes = changes;
				} catch {
					// Without it the saved figures stand; saving calculates anew, and says what is wrong.
					this.close();
					this.changes = null;
				}
			});
		this.#callOff();
		if (!nothing) return ask();
		this.#newest.drop();
		this.changes = null;
		this.#callOff = whenIdle(ask, STAYS);
	}

	async #ask(
		scenario: string,
		block: string | null,
		version: unknown,
		question: (work: Remote<SchedulePreviewWork>) => Promise<ScheduleChanges | null>
	): Promise<ScheduleChanges | null> {
		const part = block !== null && this.#tooSmallAt !== version;
		const changes = part && (await this.#thread.ask({ scenario, model: block }, version, question));
		if (changes) return changes;
		if (part) this.#tooSmallAt = version;
		return this.#thread.ask({ scenario }, version, question);
	}

	/** Ends the thread. */
	close(): void {
		this.#callOff();
		this.#thread.close();
	}
}
