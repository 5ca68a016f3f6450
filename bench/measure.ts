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
