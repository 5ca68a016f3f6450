/** Timing for benches: the median of several runs, in milliseconds, after warming up. */
export function median(run: () => void, times = 15, warm = 5): number {
	for (let i = 0; i < warm; i++) run();
	const taken: number[] = [];
	for (let i = 0; i < times; i++) {
		const start = process.hrtime.bigint();
		run();
		taken.push(Number(process.hrtime.bigint() - start) / 1e6);
	}
	return taken.sort((a, b) => a - b)[times >> 1];
}

/** Medians of two in turn, so that what slows the machine slows both. */
export function medians(a: () => void, b: () => void, times = 101, warm = 20): [number, number] {
	for (let i = 0; i < warm; i++) {
		a();
		b();
	}
	const taken: [number[], number[]] = [[], []];
	for (let i = 0; i < times; i++)
		[a, b].forEach((run, k) => {
			const start = process.hrtime.bigint();
			run();
			taken[k].push(Number(process.hrtime.bigint() - start) / 1e6);
		});
	return [middleOf(taken[0]), middleOf(taken[1])];
}

/**
 * As `medians`, of what takes its time in turns with other work: several of the same in a row, so that each clears away
 * what it left behind itself.
 */
export async function mediansOf(
	a: () => Promise<unknown>,
	b: () => Promise<unknown>,
	{ rounds = 3, times = 5, warm = 2 } = {}
): Promise<[number, number]> {
	const taken: [number[], number[]] = [[], []];
	for (let round = 0; round < rounds; round++)
		for (const [k, run] of [a, b].entries())
			for (let i = -warm; i < times; i++) {
				const start = performance.now();
				await run();
				if (i >= 0) taken[k].push(performance.now() - start);
			}
	return [middleOf(taken[0]), middleOf(taken[1])];
}

const middleOf = (list: number[]) => list.sort((x, y) => x - y)[list.length >> 1];

/** Prints one JSON line. */
export function report(metric: string, ours: number, other: number, unit: string, note?: string): void {
	const round = (x: number) => Number(x.toPrecision(4));
	console.log(
		JSON.stringify({
			metric,
			ours: round(ours),
			other: round(other),
			ratio: round(ours / other),
			unit,
			...(note ? { note } : {})
		})
	);
}
