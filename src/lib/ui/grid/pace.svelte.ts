/** How many rows are drawn in one frame: as many as the machine can draw while scrolling stays smooth. */

/** A frame that takes longer has been dropped by a screen of 60 a second (milliseconds). */
const SMOOTH = 20;
/** So many rows are drawn in any frame, however slow the machine. */
const FEWEST = 2;

/**
 * Takes over the rows that come first into the places that show others.
 * @param shown the row that each place shows
 * @param wanted the row that each place is to show
 * @param most so many places change
 * @param rank of a row; the lowest is drawn first
 * @returns the very `wanted` when nothing is left to be drawn
 */
export function stepTo(
	shown: readonly number[],
	wanted: readonly number[],
	most: number,
	rank: (row: number) => number
): readonly number[] {
	if (shown.length !== wanted.length) return wanted;
	const other = wanted.map((_, place) => place).filter((place) => shown[place] !== wanted[place]);
	if (other.length <= most) return wanted;
	const next = [...shown];
	other.sort((a, b) => rank(wanted[a]) - rank(wanted[b]));
	for (const place of other.slice(0, most)) next[place] = wanted[place];
	return next;
}

/** How many rows to draw in the next frame, after one that drew some in so many milliseconds. */
export function paceAfter(most: number, drawn: number, frame: number): number {
	if (frame > SMOOTH) return Math.max(FEWEST, Math.floor(Math.min(most, drawn) * 0.75));
	return drawn >= Math.floor(most) ? most + 0.25 : most;
}

/** The rows in a grid's places, on their way to those that are in sight. */
export class Pace {
	#shown = $state.raw<readonly number[]>([]);
	#wanted: readonly number[] = [];
	#rank: (row: number) => number = () => 0;
	#most = Infinity;
	#frame = 0;
	/** Rows drawn since the last frame, and when that was. */
	#drawn = 0;
	#last: number | null = null;

	get rows(): readonly number[] {
		return this.#shown;
	}

	/** @param rank of a row; the lowest is drawn first */
	show(wanted: readonly number[], rank: (row: number) => number): void {
		this.#wanted = wanted;
		this.#rank = rank;
		// While a frame is awaited, what it can draw has been drawn.
		const left = Math.floor(this.#most) - this.#drawn;
		if (left > 0) this.#step(left);
		if (!this.#frame) this.#frame = requestAnimationFrame(this.#next);
	}
	stop(): void {
		cancelAnimationFrame(this.#frame);
	}

	#step(most: number): void {
		const before = this.#shown;
		this.#shown = stepTo(before, this.#wanted, most, this.#rank);
		this.#drawn += this.#shown.filter((row, place) => row !== before[place]).length;
	}
	#next = (now: number): void => {
		if (this.#last !== null && this.#drawn) this.#most = paceAfter(this.#most, this.#drawn, now - this.#last);
		const idle = !this.#drawn && this.#shown === this.#wanted;
		this.#last = idle ? null : now;
		this.#drawn = 0;
		if (this.#shown !== this.#wanted) this.#step(Math.floor(this.#most));
		this.#frame = idle ? 0 : requestAnimationFrame(this.#next);
	};
}
