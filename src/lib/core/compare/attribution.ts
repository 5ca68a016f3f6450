/**
 * Why did it change: the effect of each group of inputs on a result. It is the average, over orders in which the
 * groups are switched from B's to A's values, of the change that its switch makes.
 */
import { tie } from './tie';
import { randomFrom } from '../search/random';

/** Up to so many groups, all orders are taken; beyond, a sample of them. */
export const EXACT_GROUPS = 6;
const SAMPLED_ORDERS = 200;

export interface Attribution {
	/** One effect a group; they sum exactly to the difference. */
	effects: number[];
	difference: number;
	/** Whether all orders of the groups that bear on one another were taken. */
	exact: boolean;
	evaluations: number;
}

/**
 * @param groups how many groups of inputs differ
 * @param evaluate the result when the groups named have A's values and the others B's; it is asked in an order in
 * which mostly one group changes from one time to the next
 * @param seed of the sample of orders
 */
export function attribute(
	groups: number,
	evaluate: (switched: readonly boolean[]) => number,
	seed = 1
): Attribution {
	const known = new Map<string, number>();
	const at = (switched: readonly boolean[]): number => {
		const key = switched.map(Number).join('');
		let value = known.get(key);
		if (value === undefined) known.set(key, (value = evaluate(switched)));
		return value;
	};
	const none = Array<boolean>(groups).fill(false);
	const steady = groups <= EXACT_GROUPS ? none.map(() => null) : steadyEffects(groups, at, seed);
	const rest = steady.flatMap((effect, g) => (effect === null ? [g] : []));
	const exact = rest.length <= EXACT_GROUPS;
	/** The others alone; those that are steady change nothing in what they do. */
	const among = (switched: readonly boolean[]) => at(none.map((_, g) => switched[rest.indexOf(g)] ?? false));
	const found = exact ? overAllOrders(rest.length, among) : overSample(rest.length, among, seed);
	const effects = steady.map((effect, g) => effect ?? found[rest.indexOf(g)]);
	const { parts, total } = tie(effects, at(none.map(() => true)) - at(none));
	return { effects: parts, difference: total, exact, evaluations: known.size };
}

/** States besides the first and the last in which a group is tried. */
const PROBES = 4;

/**
 * The effect of each group that makes the same change whatever else is switched: its average over all orders is that
 * change. A group counts as one when it does so from the first state, from the last, and from some between; null for
 * the others.
 */
function steadyEffects(
	groups: number,
	at: (switched: readonly boolean[]) => number,
	seed: number
): (number | null)[] {
	const random = randomFrom(seed);
	const states = [false, true].map((on) => Array<boolean>(groups).fill(on));
	for (let n = 0; n < PROBES; n++) states.push(Array.from({ length: groups }, () => random() < 0.5));
	const scale = Math.max(...states.slice(0, 2).map((s) => Math.abs(at(s))), 1e-9);
	return Array.from({ length: groups }, (_, g) => {
		const [first, ...others] = states.map((state) => at(state.with(g, true)) - at(state.with(g, false)));
		return others.every((e) => Math.abs(e - first) <= 1e-11 * scale) ? first : null;
	});
}

/** Each set of groups stands for all orders that switch it first: its weight is their share. */
function overAllOrders(groups: number, at: (switched: readonly boolean[]) => number): number[] {
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
function overSample(groups: number, at: (switched: readonly boolean[]) => number, seed: number): number[] {
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
