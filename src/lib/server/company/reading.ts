/** Reading a company folder: its files as tables and JSON, and every fault with its place. */
import type { z } from 'zod';
import type { Calendar } from '../../core/calendar/calendar';
import { treeFaults, type TreeFault, type TreeItem } from '../../core/company/tree';
import { Refusal, type Fault } from '../platform/refusal';
import type { TableForm } from './form';
import type { Holding, Kept } from './holding';
import { readTable, type Columns, type Row, type TableOptions } from './table';

/** A heading that is missing in a file, for it came with a later version. */
export interface Assumption {
	file: string;
	column: string;
	means: string;
}

export class Reading implements Holding {
	readonly faults: Fault[] = [];
	/** What an earlier version did not write, and what is taken for it instead. */
	readonly assumed: Assumption[] = [];
	private readonly held = new Map<string, unknown>();
	private own: Calendar | null = null;

	/** @param files path → content */
	constructor(readonly files: ReadonlyMap<string, string>) {}

	/** The company's calendar, from the moment that it is known. */
	get calendar(): Calendar {
		if (!this.own) throw new Error('The company’s calendar has not been read yet.');
		return this.own;
	}
	set calendar(calendar: Calendar) {
		this.own = calendar;
	}

	of<T>(subject: Kept<T>): T {
		if (!this.held.has(subject.name)) throw new Error(`“${subject.name}” has not been read yet.`);
		return this.held.get(subject.name) as T;
	}
	/** Reads a subject, so that those after it may ask for it. */
	take(subject: { name: string; read(folder: Reading): unknown }): void {
		this.held.set(subject.name, subject.read(this));
	}
	/** All that was read, by subject. */
	all(): Record<string, unknown> {
		return Object.fromEntries(this.held);
	}

	/** What is said when the folder is not loaded. */
	refusal(): Refusal {
		return new Refusal(
			422,
			'The company folder was not loaded; these places have to be mended first.',
			this.faults
		);
	}

	/** Tells a fault unless it is good. @returns whether it is */
	expect(good: boolean, file: string, row: number | undefined, column: string, message: string): boolean {
		if (!good) this.faults.push({ file, row, column, message });
		return good;
	}

	/** Rows of a table; none where the file is missing. @param path where the form's own stands for many */
	table<C extends Columns>(
		form: TableForm<C>,
		path = form.path,
		options: Omit<TableOptions, 'later' | 'missing'> = {}
	): Row<C>[] {
		const content = this.files.get(path);
		if (content === undefined) {
			if (form.needed) this.faults.push({ file: path, message: 'is missing' });
			return [];
		}
		const rows = readTable(path, content, form.columns, this.faults, this.calendar, {
			...options,
			later: Object.keys(form.later ?? {}),
			missing: (heading) => this.assumed.push({ file: path, column: heading, means: form.later![heading]! })
		});
		const { unique } = form;
		if (!unique) return rows;
		const seen = new Set<string>();
		return rows.filter((row) => {
			const key = unique.map((heading) => row[heading] as unknown).join(' ');
			if (!seen.has(key)) return seen.add(key);
			const column = unique.at(-1);
			this.faults.push({ file: path, row: row.rowNumber, column, message: `“${key}” stands twice` });
			return false;
		});
	}

	/** What a JSON file holds; null where it is missing or something else. */
	json<T>(path: string, schema: z.ZodType<T>): T | null {
		const content = this.files.get(path);
		if (content === undefined) {
			this.faults.push({ file: path, message: 'is missing' });
			return null;
		}
		let value: unknown;
		try {
			value = JSON.parse(content);
		} catch (e) {
			this.faults.push({ file: path, message: `is not readable as JSON: ${(e as Error).message}` });
			return null;
		}
		const parsed = schema.safeParse(value);
		if (parsed.success) return parsed.data;
		for (const issue of parsed.error.issues)
			this.faults.push({ file: path, column: issue.path.join('.') || undefined, message: issue.message });
		return null;
	}

	/** The items as a tree; where they are none, with each fault told, one beside the other. */
	tree<T extends TreeItem & { rowNumber: number }>(
		file: string,
		items: readonly T[],
		faults: readonly TreeFault[] = treeFaults(items)
	): T[] {
		for (const { code, column, message } of faults) {
			const row = items.filter((i) => i.code === code).at(-1)!.rowNumber;
			this.faults.push({ file, row, column, message });
		}
		if (!faults.length) return [...items];
		return [...new Map(items.map((i) => [i.code, i])).values()].map((i) => ({ ...i, parent: null }));
	}
}

/** What several subjects ask of a reading, worked out once. */
export function oncePer<T>(make: (folder: Reading) => T): (folder: Reading) => T {
	const made = new WeakMap<Reading, T>();
	return (folder) => {
		if (!made.has(folder)) made.set(folder, make(folder));
		return made.get(folder)!;
	};
}

/** Rows without their place. */
export const plainRows = <T extends { rowNumber: number; more: unknown }>(
	rows: readonly T[]
): Omit<T, 'rowNumber' | 'more'>[] => rows.map(({ rowNumber: _place, more: _others, ...row }) => row);
