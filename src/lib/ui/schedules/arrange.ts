/** How the list of a schedule is arranged stands in the address: its line, order and headings, what is sought and open. */
import { goto } from '$app/navigation';

/** Changes that much of it; an empty text is as it usually is. */
export function arrange(change: Readonly<Record<string, string>>): void {
	const url = new URL(location.href);
	for (const [name, value] of Object.entries(change)) {
		if (value) url.searchParams.set(name, value);
		else url.searchParams.delete(name);
	}
	void goto(url, { keepFocus: true, noScroll: true, replaceState: true });
}

/** Keeps to rows that hold this in a column, beside what is sought already; null shows all of the column again. */
export function keepTo(where: Readonly<Record<string, string>>, column: string, value: string | null): void {
	const others = Object.entries(where).filter(([code]) => code !== column);
	const all = value === null ? others : [...others, [column, value] as const];
	arrange({ where: all.map(([code, words]) => `${code}:${encodeURIComponent(words)}`).join(',') });
}
