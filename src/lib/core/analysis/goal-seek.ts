/** Goal seek: which value of one input gives a result. */

export interface GoalOptions {
	/** Where the search begins. */
	start: number;
	/** Bounds of the input; anything when absent. */
	low?: number;
	high?: number;
	/** How near the result must come. */
	tolerance?: number;
	/** Most evaluations. */
	most?: number;
}

export type GoalResult = { evaluations: number } & (
	| { found: true; input: number; result: number }
	/** The nearest that was met, and why there is no answer. */
	| {
			found: false;
			reason: 'no-effect' | 'out-of-reach' | 'jump' | 'no-number' | 'gave-up';
			input: number;
			result: number;
	  }
);

/**
 * Looks outwards from the start, step by step twice as far, until the goal lies between two results, and then
 * halves and interpolates between them.
 * @param evaluate the result for an input; NaN where it is no number
 */
export function goalSeek(
	evaluate: (input: number) => number,
	goal: number,
	options: GoalOptions
): GoalResult {
	const { start, low = -Infinity, high = Infinity, tolerance = 1e-6, most = 200 } = options;
	let evaluations = 0;
	let nearest = { input: start, result: NaN };
	const off = (input: number): number => {
		evaluations++;
		const result = evaluate(input);
		const distance = Math.abs(result - goal);
		if (Number.isFinite(distance) && !(distance >= Math.abs(nearest.result - goal)))
			nearest = { input, result };
		return result - goal;
	};
	const done = (y: number) => Math.abs(y) <= tolerance;
	const answer = (): GoalResult => ({ found: true, ...nearest, evaluations });
	const none = (reason: (GoalResult & { found: false })['reason']): GoalResult => ({
		found: false,
		reason,
		...nearest,
		evaluations
	});

	const first = Math.min(high, Math.max(low, start));
	const middle = off(first);
	if (done(middle)) return answer();
	if (!Number.isFinite(middle)) return none('no-number');

	// Outwards on both sides, as far as the bounds go.
	let step = Math.max(Math.abs(first) * 0.01, 1e-3);
	const sides = [
		{ x: first, y: middle, way: -1 },
		{ x: first, y: middle, way: 1 }
	];
	let bracket: [number, number, number, number] | null = null;
	let moved = false;
	while (!bracket && evaluations < most / 2) {
		let open = false;
		for (const side of sides) {
			const x = Math.min(high, Math.max(low, first + side.way * step));
			if (x === side.x) continue;
			open = true;
			const y = off(x);
			if (done(y)) return answer();
			if (!Number.isFinite(y)) continue;
			if (y !== middle) moved = true;
			if (y < 0 !== side.y < 0) {
				bracket = [side.x, side.y, x, y];
				break;
			}
			side.x = x;
			side.y = y;
		}
		if (!open) break;
		step *= 2;
	}
	if (!bracket) return none(moved ? 'out-of-reach' : 'no-effect');

	let [a, ya, b, yb] = bracket;
	for (let i = 0; evaluations < most; i++) {
		// Every third step halves, so that the bracket shrinks whatever the shape.
		const straight = a - (ya * (b - a)) / (yb - ya);
		const x = i % 3 === 2 || !Number.isFinite(straight) ? (a + b) / 2 : straight;
		if (x === a || x === b || Math.abs(b - a) <= 1e-15 * Math.max(Math.abs(a), Math.abs(b)))
			return none('jump');
		const y = off(x);
		if (done(y)) return answer();
		if (!Number.isFinite(y)) return none('no-number');
		if (y < 0 === ya < 0) [a, ya] = [x, y];
		else [b, yb] = [x, y];
	}
	return none(Math.abs(b - a) < 1e-9 * Math.max(1, Math.abs(a)) ? 'jump' : 'gave-up');
}
