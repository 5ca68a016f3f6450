/** Threads of the browser that hold a scenario and calculate on the same core as the server. */
import type { Remote } from 'comlink';
import { CalledOff, Thread } from '../../core/thread';
import { text } from '../kit/api';
import { browserThread } from '../kit/browser-thread';

/** A scenario as it is saved, as JSON; another thread may unpack it. */
export const parcelOf = (scenario: string): Promise<string> =>
	text(`scenarios/${encodeURIComponent(scenario)}/package`);

/** What each such thread does first. */
export interface HoldsScenario {
	load(parcel: string): void;
}

export class ScenarioThread<Work extends HoldsScenario> {
	readonly #thread: Thread<Work>;
	/** The scenario at a version that the thread holds or is about to; null when none. */
	#held: { wanted: string; loaded: Promise<void> } | null = null;

	constructor(start: () => Worker) {
		this.#thread = new Thread<Work>(() => browserThread(start()));
	}

	/**
	 * Asks the thread, which first takes the scenario when it does not hold it.
	 * @param scenario its code
	 * @param version changes whenever the saved figures may have changed
	 * @throws CalledOff when the thread is ended meanwhile; Error when the scenario cannot be had or calculated
	 */
	async ask<T>(scenario: string, version: unknown, question: (work: Remote<Work>) => Promise<T>): Promise<T> {
		const wanted = `${scenario}/${version}`;
		if (this.#held?.wanted !== wanted) {
			// What is still worked out from another is of no use any more.
			this.close();
			this.#held = { wanted, loaded: this.#load(scenario) };
		}
		const held = this.#held;
		try {
			await held.loaded;
			if (this.#held !== held) throw new CalledOff('called-off');
			return await this.#thread.ask(question);
		} catch (e) {
			// A thread that broke, or never had the scenario, is to take it before the next question.
			if (this.#held === held && !this.#thread.running) this.#held = null;
			throw e;
		}
	}

	/** Ends the thread and calls off what it was asked; the next question starts it anew. */
	close(): void {
		this.#held = null;
		this.#thread.end();
	}

	async #load(scenario: string): Promise<void> {
		const parcel = await parcelOf(scenario);
		await this.#thread.ask((work) => (work as unknown as Remote<HoldsScenario>).load(parcel));
	}
}
