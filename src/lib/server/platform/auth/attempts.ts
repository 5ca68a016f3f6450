/**
 * Attempts at something that can be guessed: counted when they begin, so that many at once cannot all go by before one is
 * found wrong; in bounded memory.
 */

interface Tried {
	count: number;
	/** Forgotten after this moment (ms). */
	until: number;
}

/** So many in a window, for each key. */
export interface Limit {
	key: string;
	most: number;
}

export class Attempts {
	private readonly tried = new Map<string, Tried>();

	/** @param windowMs from the last attempt on, all are forgotten after so long */
	constructor(
		private readonly windowMs: number,
		private readonly mostKeys = 20_000
	) {}

	/**
	 * Counts an attempt under all of the keys, or under none.
	 * @returns whether it may be made; when not, it counts for nothing
	 */
	begin(limits: readonly Limit[], now: number): boolean {
		if (limits.some(({ key, most }) => this.countOf(key, now) >= most)) return false;
		for (const { key } of limits) {
			const count = this.countOf(key, now) + 1;
			this.tried.delete(key);
			this.tried.set(key, { count, until: now + this.windowMs });
		}
		if (this.tried.size > this.mostKeys) this.makeRoom(now);
		return true;
	}

	/** Takes an attempt back that was right. */
	succeed(limits: readonly Limit[], now: number): void {
		for (const { key } of limits) {
			const count = this.countOf(key, now) - 1;
			if (count > 0) this.tried.set(key, { count, until: now + this.windowMs });
			else this.tried.delete(key);
		}
	}

	get size(): number {
		return this.tried.size;
	}

	private countOf(key: string, now: number): number {
		const tried = this.tried.get(key);
		return tried && tried.until > now ? tried.count : 0;
	}

	/** Those whose time is over go first, then those that have not been tried for longest. */
	private makeRoom(now: number): void {
		for (const [key, { until }] of this.tried) if (until <= now) this.tried.delete(key);
		for (const key of this.tried.keys()) {
			if (this.tried.size <= this.mostKeys) break;
			this.tried.delete(key);
		}
	}
}
