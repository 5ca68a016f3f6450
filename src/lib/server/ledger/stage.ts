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

/** Reads every row; what cannot be read is a fault with row and column. */
export function stage(
	file: string,
	sheet: Sheet,
	options: FeedOptions,
	state: CompanyState,
	month: number | null
): Staged {
	const { structure, calendar } = state;
	const faults: Fault[] = [];
	const { columns } = options;
	const placeOf = (field: string) => ownValue(columns, field);
	const headingOf = (field: string) => sheet.heading[placeOf(field) ?? -1] ?? field;
	const needed = ['date', 'ledger_account', 'department'].filter((f) => placeOf(f) === undefined);
	if (AMOUNTS.every((f) => placeOf(f) === undefined)) needed.push('amount');
	for (const field of needed)
		faults.push({
			file,
			row: 1,
			message: `No column was recognised for “${field.replace('_', ' ')}”. Its headings are: ${sheet.heading.join(', ')}. Choose the column above.`
		});
	const result: Staged = { entries: [], rows: [], names: new Map(), faults, months: new Map() };
	if (needed.length) return result;

	const departmentOf = new Map<string, string>();
	for (const d of structure.departmentRows) {
		departmentOf.set(d.name.toLowerCase(), d.code);
		departmentOf.set(d.code.toLowerCase(), d.code);
	}
	const memberOf = new Map<string, Map<string, string>>();
	for (const [code, { dimension }] of structure.dimensions) {
		if (placeOf(code) === undefined) continue;
		const map = new Map<string, string>();
		for (const m of dimension.members) {
			map.set(m.name.toLowerCase(), m.code);
			map.set(m.code.toLowerCase(), m.code);
		}
		memberOf.set(code, map);
	}
	const at = (record: string[], field: string) => cleaned(record[placeOf(field) ?? -1] ?? '').trim();
	const mixed = new Set(
		AMOUNTS.filter((field) => {
			const place = placeOf(field);
			return (
				place !== undefined &&
				mixesHabits(
					sheet.body.map((record) => record[place] ?? ''),
					options.decimal
				)
			);
		})
	);
	const monthOfDate = new Map<string, number | null>();
	const span = ledgerSpan(calendar);

	sheet.body.forEach((record, i) => {
		const row = i + 2;
		const before = faults.length;
		const fault = (field: string, message: string) =>
			faults.push({ file, row, column: headingOf(field), message });
		if (record.length !== sheet.heading.length) {
			faults.push({
				file,
				row,
				message: `has ${record.length} cells; ${sheet.heading.length} were expected`
			});
			return;
		}
		const dateText = at(record, 'date');
		const date = readDate(dateText, options.dates);
		if (date !== null && !monthOfDate.has(date)) monthOfDate.set(date, calendar.periodOf(date));
		const period = date === null ? null : (monthOfDate.get(date) ?? null);
		if (period === null)
			fault('date', `“${dateText}” is no date; one like ${DATE_EXAMPLE[options.dates]} was expected`);
		else if (period < span.from || period > span.to)
			fault(
				'date',
				`${date} does not lie between ${calendar.longLabel(span.from)} and ${calendar.longLabel(span.to)}, the ${calendar.words.many} that can be loaded (docs/operations.md says how to change that)`
			);
		else if (month !== null && period !== month)
			fault(
				'date',
				`${date} does not lie in ${calendar.longLabel(month)}; a file holds one ${calendar.words.one}`
			);
		const ledgerAccount = at(record, 'ledger_account');
		if (!/^[A-Za-z0-9][A-Za-z0-9._-]{0,63}$/.test(ledgerAccount))
			fault('ledger_account', `“${ledgerAccount}” is no ledger account code`);
		const departmentText = at(record, 'department');
		const department = departmentOf.get(departmentText.toLowerCase());
		if (department === undefined) {
			const group = structure.departments.all.find(
				(d) => d.code === departmentText || d.name === departmentText
			);
			fault(
				'department',
				group
					? `“${departmentText}” is a sum of departments; post to one of ${structure.departments
							.leaves(group.code)
							.map((d) => d.code)
							.join(', ')}`
					: `there is no department “${departmentText}”`
			);
		}
		let amount: number | null = 0;
		for (const [field, sign] of [
			['amount', options.positive === 'debit' ? 1 : -1],
			['debit', 1],
			['credit', -1]
		] as const) {
			if (placeOf(field) === undefined) continue;
			const text = at(record, field);
			if (text === '' && field !== 'amount') continue;
			const value = readAmount(text, options.decimal);
			if (value === null) {
				fault(
					field,
					`“${text}” is no number; one like ${options.decimal === ',' ? '1.234,56' : '1,234.56'} was expected`
				);
				amount = null;
			} else if (mixed.has(field) && value !== readAmount(text, options.decimal === ',' ? '.' : ',')) {
				fault(
					field,
					`“${text}” stands in a column that uses both . and , before three digits; which of them is the decimal sign cannot be told. Write its amounts in one way`
				);
				amount = null;
			} else if (amount !== null) amount += sign * value;
		}
		if (amount !== null && isTooLarge(amount)) {
			fault('amount', `${amount} is larger than any amount that is kept, 10^15`);
			amount = null;
		}
		const tags: Record<string, string> = {};
		for (const [code, members] of memberOf) {
			const text = at(record, code);
			if (text === '') continue;
			const member = members.get(text.toLowerCase());
			if (member === undefined)
				fault(code, `there is no ${structure.dimensions.get(code)!.dimension.name.toLowerCase()} “${text}”`);
			else tags[code] = member;
		}
		const rule = state.blocking({ ...tags, ...(department === undefined ? {} : { department }) });
		if (rule)
			fault(
				Object.keys(tags).includes(rule.lead.dimension) ? rule.lead.dimension : rule.others[0].dimension,
				`these members may not hold data together, by the combination rule “${rule.name}”`
			);
		if (period !== null) result.months.set(period, (result.months.get(period) ?? 0) + 1);
		if (faults.length > before) return;
		const name = at(record, 'ledger_account_name');
		if (name) result.names.set(ledgerAccount, name);
		result.rows.push(row);
		result.entries.push({
			period: period!,
			date: date!,
			ledgerAccount,
			department: department!,
			amount: amount!,
			document: at(record, 'document'),
			party: at(record, 'party'),
			description: at(record, 'description'),
			tags
		});
	});
	return result;
}

const DATE_EXAMPLE = { 'year-first': '2026-10-31', 'day-first': '31/10/2026', 'month-first': '10/31/2026' };
