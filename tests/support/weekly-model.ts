/**
 * The practice, whose own periods are months, with a model that its laboratory keeps by weeks, and one by months that
 * reads it; and what is expected of them, worked out day by day without the product's own code.
 */
import { PRAXIS } from './prepare';
import { readFolder } from '../../src/lib/server/transfer/folder';

const DAY = 86_400_000;
const dayAt = (iso: string, days: number) =>
	new Date(Date.parse(iso) + days * DAY).toISOString().slice(0, 10);

/** Mondays of the typed weeks: the first has one day in March 2026, the last ends with February 2027. */
export const MONDAYS: readonly string[] = Array.from({ length: 53 }, (_, i) => dayAt('2026-02-23', 7 * i));
/** As ISO 8601 numbers them: Monday 29 December 2025 begins the first week of 2026. */
export function weekKey(monday: string): string {
	const n = (Date.parse(monday) - Date.parse('2025-12-29')) / DAY / 7;
	const [year, week] = n < 53 ? [2026, n + 1] : [2027, n - 52];
	return `${year}-W${String(week).padStart(2, '0')}`;
}
export const samplesOf = (monday: string) => 100 + ((Date.parse(monday) / DAY) % 13) * 7;
export const PRICE = 3.5;
/** People there in a week: a mean over days. */
export const headsOf = (monday: string) => 2 + (MONDAYS.indexOf(monday) % 3);

/** The days of a month, each with the Monday of its week. */
export function daysOf(month: string): { day: string; monday: string }[] {
	const days: { day: string; monday: string }[] = [];
	for (let day = `${month}-01`; day.startsWith(month); day = dayAt(day, 1)) {
		const since = (new Date(day).getUTCDay() + 6) % 7;
		days.push({ day, monday: dayAt(day, -since) });
	}
	return days;
}
/** What of a week's amounts lies in a month. */
export const inMonth = (month: string, amountOf: (monday: string) => number) =>
	daysOf(month).reduce((sum, { monday }) => sum + amountOf(monday) / 7, 0);

const WEEKS = { kind: 'weeks', grouping: 'weeks', fiscalStart: 1, endsOn: 7, rule: 'nearest' };
const line = (code: string, more: object) => ({
	code,
	label: code[0].toUpperCase() + code.slice(1),
	...more
});
const SAMPLES = {
	code: 'samples',
	name: 'Samples',
	calendar: WEEKS,
	lines: [
		line('taken', {}),
		line('heads', { rollup: { time: 'average', members: 'sum' }, extend: 'last' }),
		line('price', {
			format: 'price',
			rollup: { time: 'formula', members: 'weighted:taken' },
			closed: 'keep',
			extend: 'last'
		}),
		line('income', { format: 'money', formula: 'taken * price', closed: 'actuals' }),
		line('rent', { format: 'money', formula: 'account("rent")' })
	],
	postings: [{ line: 'income', account: { code: 'lab' }, department: { code: 'labor' }, where: {} }]
};
const OVERVIEW = {
	code: 'overview',
	name: 'Overview',
	lines: [
		line('taken', { formula: 'samples.taken' }),
		line('heads', { formula: 'samples.heads', rollup: { time: 'average', members: 'sum' } }),
		line('price', { format: 'price', formula: 'samples.price', rollup: { time: 'last', members: 'sum' } })
	]
};

/** Files of the company, with these put in or changed. */
export function weeklyCompany(changes: Record<string, string> = {}): Map<string, string> {
	const files = readFolder(PRAXIS);
	const typed = (name: string, valueOf: (monday: string) => number) =>
		`${name},,${MONDAYS.map(valueOf).join(',')}`;
	files.set('models.csv', `${files.get('models.csv')!.trimEnd()}\nsamples\noverview\n`);
	files.set('models/samples.json', JSON.stringify(SAMPLES));
	files.set('models/overview.json', JSON.stringify(OVERVIEW));
	files.set('scenarios.csv', files.get('scenarios.csv')!.replace(/^(b26,.*),,,$/m, '$1,samples;overview,,'));
	files.set(
		'scenarios/f2/values/samples.csv',
		[
			`line,row,${MONDAYS.map(weekKey).join(',')}`,
			typed('taken', samplesOf),
			typed('heads', headsOf),
			typed('price', () => PRICE),
			''
		].join('\n')
	);
	for (const [file, text] of Object.entries(changes)) files.set(file, text);
	return files;
}
