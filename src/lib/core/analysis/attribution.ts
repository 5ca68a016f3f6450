/**
 * Why did it change: the effect of each group of inputs on a result. It is the average, over orders in which the
 * groups are switched from B's to A's values, of the change that its switch makes.
 */
import { tie } from './tie';
import { randomFrom } from './random';

/** Up to so many groups, all orders are taken at once. */
export const EXACT_GROUPS = 6;
/** Up to so many groups that bear on one another, all orders of them are taken; beyond, a sample. */
const EXACT_TOGETHER = 9;
const SAMPLED_ORDERS = 200;
/** States besides the first and the last in which a group is tried. */
const PROBES = 4;

export interface Attribution {
	/** One effect a group; they sum exactly to the difference. */
	effects: number[];
	/** The result in B, from which the effects lead. */
	start: number;
	difference: number;
	/** Whether all orders of the groups that bear on one another were taken. */
	exact: boolean;
	evaluations: number;
}

type At = (switched: readonly boolean[]) => number;

/**
 * @param groups how many groups of inputs differ
 * @param evaluate the result when the groups named have A's values and the others B's; it is asked in an order in
 * which mostly one group changes from one time to the next
 * @param pivot a group that may change what each of the others does, without these bearing on one another
 * @param seed of the states that are tried and the sample of orders
 */
export function attribute(
	groups: number,
	evaluate: (switched: readonly boolean[]) => number,
	{ pivot = null, seed = 1 }: { pivot?: number | null; seed?: number } = {}
): Attribution {
	const known = new Map<string, number>();
	const at: At = (switched) => {
		const key = switched.map(Number).join('');
		let value = known.get(key);
		if (value === undefined) known.set(key, (value = evaluate(switched)));
		return value;
	};
	const none = Array<boolean>(groups).fill(false);
	const all = Array.from({ length: groups }, (_, g) => g);
	const steady = groups <= EXACT_GROUPS ? new Map<number, Steady>() : steadyEffects(groups, at, pivot, seed);
	// The others by themselves: what is steady adds to the result and changes nothing in what they do.
	const rest = all.filter((g) => !steady.has(g));
	const exact = rest.length <= EXACT_TOGETHER;
	const among: At = (switched) => at(none.map((_, g) => switched[rest.indexOf(g)] ?? false));
	const found = exact ? overAllOrders(rest.length, among) : overSample(rest.length, among, seed);
	const effects = all.map((g) => {
		const own = steady.get(g);
		return own ? (own.off + own.on) / 2 : found[rest.indexOf(g)];
	});
	// In half of the orders the pivot comes first, in half the steady group does.
	if (pivot !== null) for (const { off, on } of steady.values()) effects[pivot] += (on - off) / 2;
	const start = at(none);
	const { parts, total } = tie(effects, at(all.map(() => true)) - start);
	return { effects: parts, start, difference: total, exact, evaluations: known.size };
}

/** What a group's switch changes while the pivot is off, and while it is on. */
interface Steady {
	off: number;
	on: number;
}

/**
 * Groups that make the same change whatever else but the pivot is switched. A group counts as one when it does so
 * from the first state, from the last, and from some between.
 */
function steadyEffects(groups: number, at: At, pivot: number | null, seed: number): Map<number, Steady> {
	const random = randomFrom(seed);
	const states = [false, true].map((on) => Array<boolean>(groups).fill(on));
	for (let n = 0; n < PROBES; n++) states.push(Array.from({ length: groups }, () => random() < 0.5));
	const scale = Math.max(...states.slice(0, 2).map((s) => Math.abs(at(s))), 1e-9);
	const found = new Map<number, Steady>();
	for (let g = 0; g < groups; g++) {
		if (g === pivot) continue;
		const [off, on] = [false, true].map((turned) => {
			const [first, ...others] = states.map((state) => {
				const there = pivot === null ? state : state.with(pivot, turned);
				return at(there.with(g, true)) - at(there.with(g, false));
			});
			return others.every((e) => Math.abs(e - first) <= 1e-9 * scale) ? first : null;
		});
		if (off !== null && on !== null) found.set(g, { off, on });
	}
	return found;
}

/** Each set of groups stands for all orders that switch it first: its weight is their share. */
function overAllOrders(groups: number, at: At): number[] {
	const values = new Float64Array(1 << groups);
	// Neighbours in this order (a Gray code) differ by one group.
	for (let i = 0; i < values.length; i++) {
		const set = i ^ (i >> 1);
		values[set] = at(Array.from({ length: groups }, (_, g) => (set & (1 << g)) !== 0));
	}
	const factorial = (n: number): number => (n < 2 ? 1 : n * factorial(n - 1));
	return Array.from({ length: groups }, (_, g) => {
		let effect = 0;
		for (let set = 0; set < values.length; set++) {
			if (set & (1 << g)) continue;
			const size = set.toString(2).replaceAll('0', '').length;
			const weight = (factorial(size) * factorial(groups - size - 1)) / factorial(groups);
			effect += weight * (values[set | (1 << g)] - values[set]);
		}
		return effect;
	});
}

/** Orders by a fixed seed, each with its reverse, which halves the scatter. */
function overSample(groups: number, at: At, seed: number): number[] {
	const random = randomFrom(seed);
	const effects = Array<number>(groups).fill(0);
	for (let n = 0; n < SAMPLED_ORDERS / 2; n++) {
		const order = Array.from({ length: groups }, (_, g) => g);
		for (let i = groups - 1; i > 0; i--) {
			const j = Math.floor(random() * (i + 1));
			[order[i], order[j]] = [order[j], order[i]];
		}
		for (const way of [order, [...order].reverse()]) {
			const switched = Array<boolean>(groups).fill(false);
			let before = at(switched);
			for (const g of way) {
				switched[g] = true;
				const after = at([...switched]);
				effects[g] += (after - before) / SAMPLED_ORDERS;
				before = after;
			}
		}
	}
	return effects;
}
