/** A long list is drawn as far as it is looked at: more of it follows when its end comes into sight. */
import type { Attachment } from 'svelte/attachments';

/** A list of usual length is there as a whole, to be searched by the browser too, and its columns stay as wide as they are. */
const WHOLE = 150;
/** Of a longer one more than a tall window shows: what else is drawn before the page answers is waited for. */
const AT_FIRST = 40;
const AT_ONCE = 300;

export class Growing {
	/** How many are drawn. */
	most = $state(AT_FIRST);

	/** @param count how many there are to begin with. @param whole so many are drawn at once */
	constructor(count: number, whole = WHOLE) {
		if (count <= whole) this.most = whole;
	}
	/** Draws at least as far as this place. */
	reach(place: number): void {
		if (place >= this.most) this.most = place + AT_ONCE;
	}
	/** Of what stands behind the last that is drawn. */
	readonly end: Attachment = (node) => {
		const watch = new IntersectionObserver(
			(seen) => {
				if (seen.some((s) => s.isIntersecting)) this.most += AT_ONCE;
			},
			// A little before it is there.
			{ rootMargin: '300px' }
		);
		watch.observe(node);
		return () => watch.disconnect();
	};
}
