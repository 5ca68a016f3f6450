/** Another scenario's figures beside those of a grid: which one stands in the address, as `beside` and `as`. */
import { goto } from '$app/navigation';
import { page } from '$app/state';
import type { Calendar } from '../core/calendar/calendar';
import type { Span } from '../core/calendar/spans';
import type { Cell } from '../core/engine/values';
import { ApiError, get } from './api';
import { spanColumn } from './grid/columns';
import type { GridColumn } from './grid/types';
import { notices } from './notices.svelte';

const PREFIX = '@beside/';

export class Beside<T> {
	/** What was read for the path asked last; null while there is none. */
	data = $state.raw<T | null>(null);
	#asked = '';

	/** The other scenario's code; empty when there is none. */
	get scenario(): string {
		return page.url.searchParams.get('beside') ?? '';
	}
	/** Whether differences to it are shown, rather than its figures. */
	get difference(): boolean {
		return page.url.searchParams.get('as') === 'difference';
	}
	choose(change: { beside?: string; as?: string }): void {
		const url = new URL(page.url);
		for (const [name, value] of Object.entries(change)) {
			if (value) url.searchParams.set(name, value);
			else url.searchParams.delete(name);
		}
		void goto(url, { keepFocus: true, noScroll: true, replaceState: true });
	}
	/** Reads what the other scenario has; an empty path takes it away. */
	read(path: string): void {
		// Read anew, the former figures stand meanwhile; those of another scenario or other months must not.
		if (path !== this.#asked) this.data = null;
		this.#asked = path;
		if (!path) return;
		void get<T>(path).then(
			(found) => {
				if (this.#asked === path) this.data = found;
			},
			(e: unknown) => {
				if (this.#asked === path) this.data = null;
				notices.say(e instanceof ApiError ? e.message : 'The other scenario could not be read.', true);
			}
		);
	}
	/** Columns of the same months and their total for the other scenario. */
	columns(calendar: Calendar, spans: readonly Span[], name: string, width: number): GridColumn[] {
		const group = this.difference ? `Difference to ${name}` : name;
		return [
			...spans.map((span, i): GridColumn => {
				const column = spanColumn(calendar, span, width);
				return { ...column, key: PREFIX + column.key, group, apart: i === 0 };
			}),
			{
				key: `${PREFIX}total`,
				label: 'Total',
				group,
				width: width + 20,
				kind: 'figure',
				apart: true
			}
		];
	}
}

/** The key of the own column that one of another scenario stands for; null for any other column. */
export const besideKey = (key: string): string | null =>
	key.startsWith(PREFIX) ? key.slice(PREFIX.length) : null;

/**
 * What stands beside a figure: the other scenario's own, or the difference to it. There is no difference where the
 * other scenario does not reach: it would be taken for a change.
 */
export function besideValue(
	own: Cell,
	theirs: Cell,
	difference: boolean,
	span: Span,
	{ last }: { last: number }
): Cell {
	if (!difference) return theirs;
	return span.to > last ? null : less(own, theirs);
}

/** One figure less another; blank counts as nothing, unless both are; an error stays. */
export function less(a: Cell, b: Cell): Cell {
	if (typeof a === 'string') return a;
	if (typeof b === 'string') return b;
	return a === null && b === null ? null : (a ?? 0) - (b ?? 0);
}
