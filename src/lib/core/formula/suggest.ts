/** "Did you mean …?" for words that are nearly right. */

/** A sentence that names the candidate nearest to a word, with a space before it; empty when none is near. */
export function suggestion(word: string, candidates: readonly string[]): string {
	let best: string | null = null;
	let least = Math.max(2, Math.floor(word.length / 3)) + 1;
	for (const candidate of candidates) {
		const d = distance(word.toLowerCase(), candidate.toLowerCase(), least);
		if (d < least) {
			least = d;
			best = candidate;
		}
	}
	return best === null ? '' : ` Did you mean “${best}”?`;
}

/** Levenshtein distance, given up at `limit`. */
function distance(a: string, b: string, limit: number): number {
	if (Math.abs(a.length - b.length) >= limit) return limit;
	let previous = Array.from({ length: b.length + 1 }, (_, i) => i);
	for (let i = 1; i <= a.length; i++) {
		const row = [i];
		for (let j = 1; j <= b.length; j++)
			row[j] = Math.min(previous[j] + 1, row[j - 1] + 1, previous[j - 1] + (a[i - 1] === b[j - 1] ? 0 : 1));
		previous = row;
	}
	return previous[b.length];
}
