/** A small seeded generator (mulberry32), so that every start of the demo is the same. */
export function seeded(seed: number) {
	let a = seed >>> 0;
	const next = () => {
		a = (a + 0x6d2b79f5) | 0;
		let t = Math.imul(a ^ (a >>> 15), 1 | a);
		t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
		return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
	};
	return {
		next,
		between: (low: number, high: number) => low + next() * (high - low),
		whole: (low: number, high: number) => Math.floor(low + next() * (high - low + 1)),
		pick: <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)],
		/** 1 ± spread, bell-shaped. */
		around: (spread: number) => 1 + ((next() + next() + next()) / 1.5 - 1) * spread
	};
}
export type Random = ReturnType<typeof seeded>;

export const cents = (v: number) => Math.round(v * 100) / 100;
