/** Threads of the browser that hold a scenario and calculate on the same core as the server. */
import type { Remote } from 'comlink';
import { CalledOff, Thread } from '../../core/thread';
import { bytes } from '../kit/api';
import { browserThread } from '../kit/browser-thread';

/** What is calculated: a scenario by its code, or what one driver model of it is made of. */
export interface Calculated {
	scenario: string;
	model?: string;
}

/** It as it is saved, as bytes; another thread may unpack it. */
export function parcelOf({ scenario, model }: Calculated): Promise<ArrayBuffer> {
	const part = model === undefined ? '' : `?model=${encodeURIComponent(model)}`;
	return bytes(`scenarios/${encodeURIComponent(scenario)}/package${part}`);
}

/** What each such thread does first. */
export interface HoldsScenario {
	load(parcel: ArrayBuffer): void;
}

export class ScenarioThread<Work extends HoldsScenario> {
	readonly #thread: Thread<Work>;
	/** The scenario at a version that the thread holds or is about to; null when none. */
	#held: { wanted: string; loaded: Promise<void>; answered: boolean } | null = null;

	constructor(start: () => Worker) {
		this.#thread = new Thread<Work>(() => browserThread(start()));
	}

	/**
	 * Asks the thread, which first takes the scenario when it does not hold it.
	 * @param what the scenario, or the part of it, that the question is about
	 * @param version changes whenever the saved figures may have changed
	 * @throws CalledOff when the thread is ended meanwhile; Error when the scenario cannot be had or calculated
	 */
	async ask<T>(what: Calculated, version: unknown, question: (work: Remote<Work>) => Promise<T>): Promise<T> {
		const wanted = wantedOf(what, version);
		if (this.#held?.wanted !== wanted) {
			// What is still worked out from another is of no use any more.
			this.#letGo();
			this.#held = { wanted, loaded: this.#load(what), answered: false };
		}
		const held = this.#held;
		try {
			await held.loaded;
			if (this.#held !== held) throw new CalledOff('called-off');
			const answer = await this.#thread.ask(question);
			held.answered = true;
			return answer;
		} catch (e) {
			// A thread that broke, or never had the scenario, is to take it before the next question.
			if (this.#held === held && !this.#thread.running) this.#held = null;
			throw e;
		}
	}

	/** What it is being made ready for. */
	#preparing: string | null = null;
	/** Has it take something up beside all else, so that what is asked of it later does not wait. */
	prepare(what: Calculated, version: unknown, question: (work: Remote<Work>) => Promise<unknown>): void {
		const wanted = wantedOf(what, version);
		if (this.#preparing === wanted || this.#isReadyFor(wanted)) return;
		this.#preparing = wanted;
		this.ask(what, version, question)
			// What failed for another is of no interest; what failed for this is tried anew when it is asked.
			.catch(() => this.#preparing === wanted && this.close())
			.finally(() => {
				if (this.#preparing === wanted) this.#preparing = null;
			});
	}

	/**
	 * Asks the thread once it has answered something about this before; until then somebody else is asked.
	 * @param meanwhile null where that one does not say; the thread is waited for then
	 */
	async askOnceReady<T>(
		what: Calculated,
		version: unknown,
		question: (work: Remote<Work>) => Promise<T>,
		meanwhile: () => Promise<T | null>
	): Promise<T> {
		if (!this.#isReadyFor(wantedOf(what, version))) {
			const closed = this.#closed;
			const answer = await meanwhile().catch(() => null);
			// Whoever has left needs no thread any more.
			if (this.#closed !== closed) throw new CalledOff('called-off');
			// Only now: the scenario would have to be sent before the answer.
			this.prepare(what, version, question);
			if (answer) return answer;
		}
		return this.ask(what, version, question);
	}

	#isReadyFor(wanted: string): boolean {
		return this.#held?.answered === true && this.#held.wanted === wanted;
	}

	/** Ends the thread and calls off what it was asked; the next question starts it anew. */
	close(): void {
		this.#closed++;
		this.#letGo();
	}
	/** How often it has been. */
	#closed = 0;

	#letGo(): void {
		this.#held = null;
		this.#thread.end();
	}

	async #load(what: Calculated): Promise<void> {
		// It starts while the scenario is on its way.
		this.#thread.begin();
		const parcel = await parcelOf(what);
		await this.#thread.ask((work) => (work as unknown as Remote<HoldsScenario>).load(parcel));
	}
}

const wantedOf = (what: Calculated, version: unknown) => JSON.stringify([what, version]);
