/** Another scenario's figures beside those of a grid: which one stands in the address, as `beside` and `as`. */
import { goto } from '$app/navigation';
import { page } from '$app/state';
import { ApiError, get } from '../kit/api';
import { notices } from '../kit/notices.svelte';

export class Beside<T> {
	/** What was read for the path asked last; null while there is none. */
	data = $state.raw<T | null>(null);
	#asked = '';

	/** The other scenario's code; empty when there is none. */
	get scenario(): string {
		return page.url.searchParams.get('beside') ?? '';
	}
	/** Whether differences to it are shown, rather than its figures. */
	get difference(): boolean {
		return page.url.searchParams.get('as') === 'difference';
	}
	choose(change: { beside?: string; as?: string }): void {
		const url = new URL(page.url);
		for (const [name, value] of Object.entries(change)) {
			if (value) url.searchParams.set(name, value);
			else url.searchParams.delete(name);
		}
		void goto(url, { keepFocus: true, noScroll: true, replaceState: true });
	}
	/** Reads what the other scenario has; an empty path takes it away. */
	read(path: string): void {
		// Read anew, the former figures stand meanwhile; those of another scenario or other months must not.
		if (path !== this.#asked) this.data = null;
		this.#asked = path;
		if (!path) return;
		void get<T>(path).then(
			(found) => {
				if (this.#asked === path) this.data = found;
			},
			(e: unknown) => {
				if (this.#asked === path) this.data = null;
				notices.say(e instanceof ApiError ? e.message : 'The other scenario could not be read.', true);
			}
		);
	}
}
