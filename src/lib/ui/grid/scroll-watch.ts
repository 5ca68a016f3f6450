/** One listener for both directions of scrolling. */
import type { Virtualizer } from '@tanstack/svelte-virtual';

type Tell = (offset: number, scrolling: boolean) => void;
interface Watcher {
	read: (element: Element) => number;
	tell: Tell;
	last: number;
}
/** So long after the last scroll it is taken to be over (milliseconds). */
const REST = 150;

/**
 * Observers of a scrolled element's offsets for two virtualizers. Both offsets are read before either of them draws
 * anything: reading one after the other has drawn would lay the page out in between. One that has not moved hears nothing.
 */
export function scrollWatch() {
	const watchers = new Set<Watcher>();
	let rest: ReturnType<typeof setTimeout> | undefined;
	const hear = (element: Element) => {
		const moved = [...watchers].filter((w) => {
			const before = w.last;
			w.last = w.read(element);
			return w.last !== before;
		});
		for (const w of moved) w.tell(w.last, true);
		clearTimeout(rest);
		rest = setTimeout(() => watchers.forEach((w) => w.tell(w.last, false)), REST);
	};
	const listen = (event: Event) => hear(event.currentTarget as Element);
	const observer =
		(horizontal: boolean) => (instance: Virtualizer<HTMLDivElement, HTMLDivElement>, tell: Tell) => {
			const element = instance.scrollElement;
			if (!element) return;
			const read = (e: Element) => (horizontal ? e.scrollLeft : e.scrollTop);
			const watcher: Watcher = { read, tell, last: read(element) };
			if (!watchers.size) element.addEventListener('scroll', listen, { passive: true });
			watchers.add(watcher);
			tell(watcher.last, false);
			return () => {
				watchers.delete(watcher);
				if (!watchers.size) element.removeEventListener('scroll', listen);
			};
		};
	return {
		observer,
		/** What has been scrolled is heard of now, not only in the next frame. */
		now: hear
	};
}
