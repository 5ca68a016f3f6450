/** What lines of driver models were in closed months: read off the ledger, along the lines' own postings. */
import type { Period } from '../calendar/calendar';
import { beginOnto } from '../calendar/onto';
import { ROW_SEPARATOR, rowKey } from '../engine/row-key';
import { modelCalendar } from '../blocks/driver-model/periods';
import type { ModelDefinition, ScenarioModel } from '../blocks/driver-model/schema';
import { withValues, type Series } from '../inputs/series';
import { ownValue } from '../text';
import { coordinatesOf } from '../blocks/driver-model/compile';
import { collectPostings } from '../blocks/driver-model/postings';
import type { Plan } from './plan';
import type { Structure } from '../company/structure';

/** A month's actual value of an account, natural amount, for some members (dimension → member, departments too). */
export interface TaggedTotal {
	period: Period;
	account: string;
	members: Readonly<Record<string, string>>;
	value: number;
}

export const derivesActuals = (definition: ModelDefinition) =>
	definition.lines.some((l) => l.closed === 'actuals');

/**
 * Values of lines that show actuals in closed months: for each row the ledger's value on the account that the row
 * posts to, of the row's members. What is tagged with other members, or less finely than the row, is left out.
 * @param through last period that is taken
 */
export function derivedSeries(
	models: readonly ScenarioModel[],
	structure: Structure,
	totals: readonly TaggedTotal[],
	through: Period
): Series[] {
	const byAccount = new Map<string, TaggedTotal[]>();
	for (const t of totals)
		if (t.period <= through) {
			const list = byAccount.get(t.account);
			if (list) list.push(t);
			else byAccount.set(t.account, [t]);
		}
	return models
		.filter((m) => derivesActuals(m.definition))
		.flatMap((model) => {
			const { definition } = model;
			const rowOf = new Map(coordinatesOf(model).map((row, r) => [rowKey(row), r]));
			// Totals of the same members share them: which row they stand for is asked once.
			const keys = new Map<TaggedTotal['members'], string>();
			const keyOf = (members: TaggedTotal['members']) => {
				const known = keys.get(members);
				if (known !== undefined) return known;
				const key = definition.dimensions.map((d) => ownValue(members, d) ?? '').join(ROW_SEPARATOR);
				keys.set(members, key);
				return key;
			};
			const found: Series[] = [];
			for (const [account, inflows] of collectPostings([model], structure))
				for (const { line, index } of inflows) {
					if (definition.lines.find((l) => l.code === line)?.closed !== 'actuals') continue;
					const months = new Map<string, Map<Period, number>>();
					for (const { period, members, value } of byAccount.get(account) ?? []) {
						const key = keyOf(members);
						const row = rowOf.get(key);
						if (row === undefined || index[row] < 0) continue;
						const own = months.get(key) ?? new Map<Period, number>();
						months.set(key, own);
						own.set(period, (own.get(period) ?? 0) + value);
					}
					for (const [row, own] of months) found.push(seriesFrom(definition.code, line, row, own));
				}
			return found;
		});
}

/** The same lines in months that a followed scenario stands in for; `from` and `to` are the company’s. */
export function followedSeries(
	models: readonly ScenarioModel[],
	before: Plan,
	from: Period,
	to: Period
): Series[] {
	return models.flatMap((model) => {
		const { code, lines } = model.definition;
		const company = before.structure.calendar;
		const own = modelCalendar(model.definition, company);
		// A model that is kept in other periods there says nothing of ours.
		if (before.blocks.get(code)?.calendar !== own) return [];
		const [first, end] = [beginOnto(own, company, from), beginOnto(own, company, to + 1)];
		return lines
			.filter((l) => l.closed === 'actuals' && before.calculation.has(code, l.code))
			.flatMap((line) =>
				before.calculation.block(code).rows.flatMap((coordinate, r) => {
					const own = new Map<Period, number>();
					for (let p = first; p < end; p++) {
						const cell = before.calculation.cell(code, line.code, r, p);
						if (typeof cell === 'number') own.set(p, cell);
					}
					return own.size ? [seriesFrom(code, line.code, rowKey(coordinate), own)] : [];
				})
			);
	});
}

function seriesFrom(block: string, line: string, row: string, months: ReadonlyMap<Period, number>): Series {
	return { block, line, row, ...withValues(null, months)! };
}
