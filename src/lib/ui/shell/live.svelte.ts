/** What others save and who else is there, as the server tells it while a page is in sight. */

import { TAB } from '../kit/api';
import { notices } from '../kit/notices.svelte';
import { reread } from '../kit/reread';

interface Present {
	name: string;
	at: string;
}

class Live {
	/** Others at the same scenario. */
	present: Present[] = $state([]);

	#source: EventSource | null = null;
	/** What is watched: scenario and page. */
	#watched = '';
	/** State of the scenario as it was last told. */
	#known = '';

	/** Watches a scenario from a page; another one, or none, ends what was watched before. */
	watch(scenario: string, at: string): void {
		const watched = scenario ? `${scenario} ${at}` : '';
		if (watched === this.#watched) return;
		if (this.#watched.split(' ')[0] !== scenario) this.#known = '';
		this.#watched = watched;
		this.#open();
	}
	/** A page out of sight listens to nothing; back in sight it is told what it has missed. */
	seen(visible: boolean): void {
		if (visible) this.#open();
		else this.close();
	}
	close(): void {
		this.#source?.close();
		this.#source = null;
		this.present = [];
	}

	#open(): void {
		this.close();
		const [scenario, at] = this.#watched.split(' ');
		if (!scenario || document.hidden) return;
		const source = new EventSource(`/api/v1/events?${new URLSearchParams({ scenario, tab: TAB, at })}`);
		this.#source = source;
		source.addEventListener('hello', ({ data }: MessageEvent<string>) => {
			const now = JSON.parse(data) as string;
			if (this.#known && this.#known !== now) void reread();
			this.#known = now;
		});
		source.addEventListener('saved', ({ data }: MessageEvent<string>) => {
			const { now, by } = JSON.parse(data) as { now: string; by: string | null };
			this.#known = now;
			if (by === null) return;
			void reread();
			notices.say(`${by} has saved changes; what you see is up to date. What you typed stays.`);
		});
		source.addEventListener('present', ({ data }: MessageEvent<string>) => {
			this.present = JSON.parse(data) as Present[];
		});
	}
}
export const live = new Live();
