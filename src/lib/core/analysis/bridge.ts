/** A bridge: the steps that lead from one total to another. */

export interface BridgeStep {
	name: string;
	amount: number;
	/** Where the step begins and ends on the way. */
	from: number;
	to: number;
}

/**
 * Lines up steps from `start` to `end`. What the steps leave is a step of its own, named `rest`; none when it is
 * smaller than `tolerance`.
 */
export function bridge(
	start: number,
	steps: readonly { name: string; amount: number }[],
	end: number,
	rest: string,
	tolerance = 0.005
): BridgeStep[] {
	const out: BridgeStep[] = [];
	let at = start;
	const add = (name: string, amount: number, to: number) => {
		out.push({ name, amount, from: at, to });
		at = to;
	};
	for (const { name, amount } of steps) add(name, amount, at + amount);
	if (Math.abs(end - at) > tolerance) add(rest, end - at, end);
	return out;
}
