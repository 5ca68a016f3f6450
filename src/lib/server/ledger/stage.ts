/** Reads every row of a ledger file against the company; what cannot be read is a fault with row and column. */
import { cleaned, ownValue } from '../../core/text';
import type { Entry } from '../company/subjects/entries';
import type { Fault } from '../platform/refusal';
import { ledgerSpan } from '../platform/settings';
import type { CompanyState } from '../company/structure';
import { isTooLarge, mixesHabits, readAmount } from './amounts';
import { AMOUNTS, readDate, type FeedOptions, type Sheet } from './columns';

export interface Staged {
	entries: Entry[];
	/** Row of each entry in the file, as a spreadsheet counts. */
	rows: number[];
	/** Names of ledger accounts as far as the file has them. */
	names: Map<string, string>;
	faults: Fault[];
	/** Entries by month. */
	months: Map<number, number>;
}

/** What rows are read against. */
export type StagedFor = Pick<CompanyState, 'structure' | 'calendar' | 'blocking'>;

/**
 * Reads every row; what cannot be read is a fault with row and column.
 * @param month the only one that is taken
 * @param fixed what every row says where the file has no column of it, as it would stand in one
 */
export function stage(
	file: string,
	sheet: Sheet,
	options: FeedOptions,
	state: StagedFor,
	month: number | null,
	fixed: Readonly<Partial<Record<'date' | 'department', string>>> = {}
): Staged {
	const faults: Fault[] = [];
	const { columns } = options;
	const placeOf = (field: string) => ownValue(columns, field);
	const headingOf = (field: string) => sheet.heading[placeOf(field) ?? -1] ?? field;
	const needed = (['date', 'ledger_account', 'department'] as const).filter(
		(f) => placeOf(f) === undefined && ownValue(fixed, f) === undefined
	) as string[];
	if (AMOUNTS.every((f) => placeOf(f) === undefined)) needed.push('amount');
	for (const field of needed)
		faults.push({
			file,
			row: 1,
			message: `No column was recognised for “${field.replace('_', ' ')}”. Its headings are: ${sheet.heading.join(', ')}. Choose the column, or give it that heading.`
		});
	const result: Staged = { entries: [], rows: [], names: new Map(), faults, months: new Map() };
	if (needed.length) return result;

	const {
		date: dateOf,
		account: accountOf,
		department: departmentOf,
		members
	} = readers(options, state, month);
	const dimensions = [...members.keys()].filter((code) => placeOf(code) !== undefined);
	const at = (record: string[], field: string) =>
		cleaned(record[placeOf(field) ?? -1] ?? ownValue(fixed, field) ?? '').trim();
	const amounts = AMOUNTS.filter((field) => placeOf(field) !== undefined);
	const mixed = new Set(
		amounts.filter((field) =>
			mixesHabits(
				sheet.body.map((record) => record[placeOf(field)!] ?? ''),
				options.decimal
			)
		)
	);
	const signs = { amount: options.positive === 'debit' ? 1 : -1, debit: 1, credit: -1 };

	sheet.body.forEach((record, i) => {
		const row = sheet.rows[i];
		const before = faults.length;
		const fault = (field: string, message: string) =>
			void faults.push({ file, row, column: headingOf(field), message });
		if (record.length !== sheet.heading.length) {
			faults.push({
				file,
				row,
				message: `has ${record.length} cells; ${sheet.heading.length} were expected`
			});
			return;
		}
		const date = dateOf(at(record, 'date'));
		if (date.fault) fault('date', date.fault);
		const ledgerAccount = accountOf(at(record, 'ledger_account'));
		if (ledgerAccount.fault) fault('ledger_account', ledgerAccount.fault);
		const department = departmentOf(at(record, 'department'));
		if (department.fault) fault('department', department.fault);
		let amount = 0;
		for (const field of amounts) {
			const text = at(record, field);
			if (text === '' && field !== 'amount') continue;
			const value = readAmount(text, options.decimal);
			if (value === null)
				fault(
					field,
					`“${text}” is no number; one like ${options.decimal === ',' ? '1.234,56' : '1,234.56'} was expected`
				);
			else if (mixed.has(field) && value !== readAmount(text, options.decimal === ',' ? '.' : ','))
				fault(
					field,
					`“${text}” stands in a column that uses both . and , before three digits; which of them is the decimal sign cannot be told. Write its amounts in one way`
				);
			else amount += signs[field] * value;
		}
		if (isTooLarge(amount)) fault('amount', `${amount} is larger than any amount that is kept, 10^15`);
		const tags: Record<string, string> = {};
		for (const code of dimensions) {
			const text = at(record, code);
			if (text === '') continue;
			const member = members.get(code)!(text);
			if (member.value === undefined) fault(code, member.fault);
			else tags[code] = member.value;
		}
		const rule = state.blocking(
			department.value === undefined ? tags : { ...tags, department: department.value }
		);
		if (rule)
			fault(
				Object.keys(tags).includes(rule.lead.dimension) ? rule.lead.dimension : rule.others[0].dimension,
				`these members may not hold data together, by the combination rule “${rule.name}”`
			);
		if (date.period !== undefined) result.months.set(date.period, (result.months.get(date.period) ?? 0) + 1);
		if (faults.length > before) return;
		const name = at(record, 'ledger_account_name');
		if (name) result.names.set(ledgerAccount.value!, name);
		result.rows.push(row);
		result.entries.push({
			period: date.period!,
			date: date.value!,
			ledgerAccount: ledgerAccount.value!,
			department: department.value!,
			amount,
			document: at(record, 'document'),
			party: at(record, 'party'),
			description: at(record, 'description'),
			tags
		});
	});
	return result;
}

const DATE_EXAMPLE = { 'year-first': '2026-10-31', 'day-first': '31/10/2026', 'month-first': '10/31/2026' };

/** What a text says, or what is wrong with it. */
type Said<T> = { value: T; fault?: undefined } | { value?: undefined; fault: string };

/** Different texts of a column that are remembered. */
const REMEMBERED = 10_000;

/** A column repeats itself: each text is read once. */
function once<T>(read: (text: string) => T): (text: string) => T {
	const known = new Map<string, T>();
	return (text) => {
		let said = known.get(text);
		if (said === undefined) {
			said = read(text);
			if (known.size < REMEMBERED) known.set(text, said);
		}
		return said;
	};
}

/** How each column of names is read: by code or name, in any case. */
function readers({ dates }: FeedOptions, { structure, calendar }: StagedFor, month: number | null) {
	const span = ledgerSpan(calendar);
	const { words } = calendar;
	const codeOf = (all: readonly { code: string; name: string }[]) =>
		new Map(
			all.flatMap(({ code, name }) => [
				[name.toLowerCase(), code],
				[code.toLowerCase(), code]
			])
		);
	/** A date; its period is known also where the date is of no use. */
	const date = (text: string): Said<string> & { period?: number } => {
		const value = readDate(text, dates);
		const period = value === null ? null : calendar.periodOf(value);
		if (value === null || period === null)
			return { fault: `“${text}” is no date; one like ${DATE_EXAMPLE[dates]} was expected` };
		if (period < span.from || period > span.to)
			return {
				period,
				fault: `${value} does not lie between ${calendar.longLabel(span.from)} and ${calendar.longLabel(span.to)}, the ${words.many} that can be loaded (docs/operations.md says how to change that)`
			};
		if (month !== null && period !== month)
			return {
				period,
				fault: `${value} does not lie in ${calendar.longLabel(month)}; a file holds one ${words.one}`
			};
		return { period, value };
	};
	const account = (text: string): Said<string> =>
		/^[A-Za-z0-9][A-Za-z0-9._-]{0,63}$/.test(text)
			? { value: text }
			: { fault: `“${text}” is no ledger account code` };
	const departments = codeOf(structure.departmentRows);
	const department = (text: string): Said<string> => {
		const value = departments.get(text.toLowerCase());
		if (value !== undefined) return { value };
		const group = structure.departments.all.find((d) => d.code === text || d.name === text);
		if (!group) return { fault: `there is no department “${text}”` };
		const leaves = structure.departments.leaves(group.code).map((d) => d.code);
		return { fault: `“${text}” is a sum of departments; post to one of ${leaves.join(', ')}` };
	};
	const members = new Map(
		[...structure.dimensions].map(([code, { dimension }]) => {
			const known = codeOf(dimension.members);
			const member = (text: string): Said<string> => {
				const value = known.get(text.toLowerCase());
				return value === undefined
					? { fault: `there is no ${dimension.name.toLowerCase()} “${text}”` }
					: { value };
			};
			return [code, once(member)] as const;
		})
	);
	return { date: once(date), account: once(account), department: once(department), members };
}
