/** A long list is drawn as far as it is looked at: more of it follows when its end comes into sight. */
import type { Attachment } from 'svelte/attachments';

/** More than a tall window shows: what else is drawn before the page answers is waited for. */
const AT_FIRST = 60;
/** A little later (milliseconds), so that lists of a usual length are there as a whole, to be searched by the browser too. */
const SOON = 150;
const WAIT = 400;
const AT_ONCE = 300;

export class Growing {
	/** How many are drawn. */
	most = $state(AT_FIRST);
	/** Draws at least as far as this place. */
	reach(place: number): void {
		if (place >= this.most) this.most = place + AT_ONCE;
	}
	/** Of what stands behind the last that is drawn. */
	readonly end: Attachment = (node) => {
		const soon = setTimeout(() => (this.most = Math.max(this.most, SOON)), WAIT);
		const watch = new IntersectionObserver(
			(seen) => {
				if (seen.some((s) => s.isIntersecting)) this.most += AT_ONCE;
			},
			// A little before it is there.
			{ rootMargin: '600px' }
		);
		watch.observe(node);
		return () => {
			clearTimeout(soon);
			watch.disconnect();
		};
	};
}
