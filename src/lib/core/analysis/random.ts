/** Random numbers from a seed: the same seed gives the same numbers on every machine. */

/** Numbers evenly between 0 (included) and 1 (excluded), by the 32-bit generator "mulberry32". */
export function randomFrom(seed: number): () => number {
	let state = seed >>> 0;
	return () => {
		state = (state + 0x6d2b79f5) >>> 0;
		let t = state;
		t = Math.imul(t ^ (t >>> 15), t | 1);
		t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
		return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
	};
}

/** How an uncertain value is distributed. */
export type Distribution =
	| { kind: 'normal'; mean: number; deviation: number }
	| { kind: 'triangular'; low: number; likely: number; high: number }
	| { kind: 'uniform'; low: number; high: number }
	/** Of the values themselves, not of their logarithms. */
	| { kind: 'lognormal'; mean: number; deviation: number };

/** What is wrong with a distribution, in words; null when nothing is. */
export function distributionFault(d: Distribution): string | null {
	const numbers = Object.values(d).filter((v) => typeof v === 'number');
	if (!numbers.every(Number.isFinite)) return 'Every parameter is a number.';
	switch (d.kind) {
		case 'normal':
			return d.deviation < 0 ? 'A standard deviation is not below 0.' : null;
		case 'lognormal':
			if (d.mean <= 0) return 'A lognormal value has a mean above 0.';
			return d.deviation < 0 ? 'A standard deviation is not below 0.' : null;
		case 'uniform':
			return d.low > d.high ? 'The low value lies above the high one.' : null;
		case 'triangular':
			return d.low > d.likely || d.likely > d.high ? 'Low, likely and high come in this order.' : null;
	}
}

/** Draws one value. */
export function draw(d: Distribution, random: () => number): number {
	switch (d.kind) {
		case 'uniform':
			return d.low + random() * (d.high - d.low);
		case 'triangular': {
			const u = random();
			const width = d.high - d.low;
			if (width === 0) return d.low;
			const turn = (d.likely - d.low) / width;
			return u < turn
				? d.low + Math.sqrt(u * width * (d.likely - d.low))
				: d.high - Math.sqrt((1 - u) * width * (d.high - d.likely));
		}
		case 'normal':
			return d.mean + d.deviation * standardNormal(random);
		case 'lognormal': {
			const spread = Math.log1p((d.deviation / d.mean) ** 2);
			return Math.exp(Math.log(d.mean) - spread / 2 + Math.sqrt(spread) * standardNormal(random));
		}
	}
}

/** Box and Muller's method; 1 − u keeps the logarithm from 0. */
function standardNormal(random: () => number): number {
	return Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
}
