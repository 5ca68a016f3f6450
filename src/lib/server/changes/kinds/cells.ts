/** Typed values. */
import { endOnto } from '../../../core/calendar/onto';
import { ACCOUNTS_BLOCK } from '../../../core/engine/spec';
import type { CellEdit } from '../../../core/inputs/cell';
import { upTo, withValues } from '../../../core/inputs/series';
import { changedText, type NamedCell } from '../../company/changed';
import { insertSeries, readSeries } from '../../company/subjects/scenario/values';
import { calendarsIn } from '../../scenarios/block-periods';
import { scenarioBlocks } from '../../scenarios/plan-data';
import { writeCells } from '../../scenarios/cells';
import { saveCells } from '../save-cells';
import { changedSince, type ChangeKind, type Names } from './kind';

const value = (text: string): number | null => (text === '' ? null : Number(text));

/** Where a cell stands, in words. */
export function cellPlace({ block, line, row, period: key }: NamedCell, names: Names): string {
	const calendar = names.calendarOf(block);
	const period = calendar.parse(key);
	const what =
		block === ACCOUNTS_BLOCK
			? `${names.account(line)}, ${names.department(row)}`
			: `${names.model(block)}: ${names.line(block, line)}${row ? `, ${names.row(block, row)}` : ''}`;
	if (key === '') return what;
	return `${what}, ${period === null ? key : calendar.label(period)}`;
}

const figure = (text: string) => (text === '' ? 'blank' : String(Number(Number(text).toPrecision(10))));

export const CELLS: ChangeKind<'cell'> = {
	what: ['cell'],
	words: ({ about, before, after }, names) => ({
		place: cellPlace(about, names),
		before: figure(before),
		after: figure(after)
	}),
	async undo(within, { scenario, as, withPlaces }, entries) {
		const { db: trx, user } = within;
		const calendarOf = await calendarsIn(trx, scenario);
		const edits = new Map<string, CellEdit>();
		for (const { about, before, after } of entries) {
			const named = changedText(about);
			const own = edits.get(named);
			// Of a cell that was changed twice in one save, what it was before the first counts.
			if (own) own.value = value(before);
			else {
				const { block, line, row } = about;
				const period = calendarOf(block).parse(about.period);
				if (period === null) throw changedSince('The model');
				edits.set(named, { block, line, row, period, before: value(after), value: value(before) });
			}
		}
		const cells = [...edits.values()];
		// Figures that went with a line come back where they were, also in closed months.
		if (withPlaces) await writeCells(trx, scenario, cells, user.email, as);
		else await saveCells(within, scenario, cells, as);
	},
	async rewind(trx, { scenario, calendar, last }, entries) {
		const calendarOf = await calendarsIn(trx, scenario);
		const keyOf = (block: string, line: string, row: string) => JSON.stringify([block, line, row]);
		const typed = new Map<string, Map<number, number | null>>();
		for (const { about, before } of entries) {
			const { block, line, row } = about;
			const period = calendarOf(block).parse(about.period);
			if (period === null) continue;
			const key = keyOf(block, line, row);
			typed.set(key, (typed.get(key) ?? new Map<number, number | null>()).set(period, value(before)));
		}
		// Figures that a model brought along as a copy of another are no save of their own: they go with it.
		const blocks = await scenarioBlocks(trx, scenario);
		const stored = new Map(
			(await readSeries(trx, scenario))
				.filter((s) => blocks.has(s.block))
				.map((s) => [keyOf(s.block, s.line, s.row), s])
		);
		for (const [key, own] of typed) {
			const [block, line, row] = JSON.parse(key) as [string, string, string];
			const run = withValues(stored.get(key) ?? null, own);
			if (run) stored.set(key, { block, line, row, ...run });
			else stored.delete(key);
		}
		const kept = [...stored.values()].flatMap((s) => {
			// Months that only a longer window has opened go with it.
			const run = upTo(s, endOnto(calendarOf(s.block), calendar, last));
			return run ? [{ ...s, ...run }] : [];
		});
		await trx('series').where({ scenario }).delete();
		await insertSeries(trx, scenario, kept);
	}
};
