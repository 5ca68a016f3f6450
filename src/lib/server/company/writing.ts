/** Writing a company folder: path → content. The same company always gives the same files. */
import type { Calendar } from '../../core/calendar/calendar';
import type { TableForm } from './form';
import type { Holding, Kept } from './holding';
import { writeTable, type Columns } from './table';

type Written<C extends Columns> = { [K in keyof C]: unknown };

export class Writing implements Holding {
	readonly files = new Map<string, string>();

	/** @param held what the company holds, by subject */
	constructor(
		private readonly held: Readonly<Record<string, unknown>>,
		readonly calendar: Calendar
	) {}

	of<T>(subject: Kept<T>): T {
		return this.held[subject.name] as T;
	}

	/** A period as files write it. */
	readonly period = (p: number | null): string | null => (p === null ? null : this.calendar.key(p));

	/** @param path where the form's own stands for many @param more further headings, whose cells stand in `more` */
	table<C extends Columns>(
		form: TableForm<C>,
		rows: Iterable<Written<C> & { more?: readonly unknown[] }>,
		path = form.path,
		more: readonly string[] = []
	): void {
		const headings = Object.keys(form.columns);
		this.files.set(
			path,
			writeTable(
				[...headings, ...more],
				Array.from(rows, (row) => [...headings.map((h) => row[h]), ...(row.more ?? [])])
			)
		);
	}

	json(path: string, value: unknown): void {
		this.files.set(path, JSON.stringify(value, null, '\t') + '\n');
	}
}
