/** Which quarters are folded. It stands in the address, so that a view can be linked. */
import { replaceState } from '$app/navigation';
import { page } from '$app/state';
import { SvelteSet } from 'svelte/reactivity';
import type { Calendar } from '../../core/calendar/calendar';
import type { Span } from '../../core/calendar/spans';

export class Folds {
	/** First periods of the folded quarters. */
	readonly #folded: SvelteSet<number>;

	constructor(private readonly calendar: Calendar) {
		const keys = (page.url.searchParams.get('fold') ?? '').split(',');
		this.#folded = new SvelteSet(keys.flatMap((k) => calendar.parse(k) ?? []));
	}
	has(period: number): boolean {
		return this.#folded.has(this.#start(period));
	}
	/** Folds or unfolds the quarter of a column. */
	toggle({ from }: Span): void {
		this.#set([from], !this.has(from));
	}
	/** Folds these quarters, or all of them open. */
	all(quarters: readonly Span[], fold: boolean): void {
		this.#set(
			quarters.map((q) => q.from),
			fold
		);
	}
	#start(period: number): number {
		const { calendar } = this;
		const quarter = (p: number) => calendar.fiscalYear(p) * 4 + calendar.quarter(p);
		let first = period;
		while (quarter(first - 1) === quarter(period)) first--;
		return first;
	}
	#set(periods: readonly number[], fold: boolean): void {
		for (const first of periods.map((p) => this.#start(p))) {
			if (fold) this.#folded.add(first);
			else this.#folded.delete(first);
		}
		const url = new URL(location.href);
		if (this.#folded.size)
			url.searchParams.set(
				'fold',
				[...this.#folded]
					.sort()
					.map((p) => this.calendar.key(p))
					.join(',')
			);
		else url.searchParams.delete('fold');
		replaceState(url, page.state);
	}
}
