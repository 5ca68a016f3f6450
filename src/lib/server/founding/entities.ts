/** Legal entities of a new company, the currencies in which they count, and what that needs to begin with. */
import { z } from 'zod';
import type { Calendar } from '../../core/calendar/calendar';
import { codeFor } from '../../core/company/code';
import { isCurrency } from '../../core/company/currency';
import {
	readable,
	type Account,
	type Company,
	type Department,
	type Entity
} from '../../core/company/schema';
import { Rate, type RateSet } from '../../core/currency/rates';
import { Refusal, type Fault } from '../platform/refusal';

export const named = (what: string) =>
	z.string().trim().min(1, `${what} is missing`).max(120).superRefine(readable());

export const Currency = z
	.string()
	.trim()
	.toUpperCase()
	.refine(isCurrency, 'this is no currency; a code such as GBP was expected (ISO 4217)');

/** A legal entity beside the company itself, with the departments that are its own. */
export const OtherEntity = z.strictObject({
	name: named('the legal entity’s name'),
	currency: Currency,
	/** Place in the outline, from 0, of the department that it owns with all under it. */
	department: z.int().min(0).max(100_000),
	/** What one unit of its currency is worth in the company's, to begin with; null where it is not said. */
	rate: Rate.nullable().default(null)
});
export type OtherEntity = z.output<typeof OtherEntity>;

/**
 * The departments, each in its legal entity: the company itself, or another one that owns it or what it lies under.
 * @throws Refusal 422 for a department that is not there, or a name that stands twice
 */
export function inEntities(
	tree: readonly Department[],
	company: Pick<Company, 'name' | 'currency'>,
	entities: readonly OtherEntity[]
): [Department[], Entity[]] {
	const [root] = tree;
	const list: Entity[] = [{ code: root.entity, name: company.name, currency: company.currency }];
	const owned = new Map<string, string>();
	const faults: Fault[] = [];
	entities.forEach(({ name, currency, department }, i) => {
		// The whole company stands before the outline.
		const own = tree[department + 1];
		const say = (message: string) => faults.push({ row: i + 1, column: 'entities', message });
		if (!own) say(`“${name}” has no department of its own`);
		else if (owned.has(own.code)) say(`“${own.name}” is another entity’s already`);
		else if (list.some((e) => e.name === name)) say(`“${name}” stands twice`);
		else {
			const taken = list.map((e) => e.code);
			const entity = { code: codeFor(name, '-', taken, 'entity'), name, currency };
			list.push(entity);
			owned.set(own.code, entity.code);
		}
	});
	if (faults.length) throw new Refusal(422, 'The legal entities cannot be taken as they are.', faults);
	const entityOf = new Map<string, string>();
	const placed = tree.map((d) => {
		const entity = owned.get(d.code) ?? entityOf.get(d.parent ?? '') ?? d.entity;
		entityOf.set(d.code, entity);
		return { ...d, entity };
	});
	return [placed, list];
}

/** The chart with an account in which translation differences stand, beside others of equity. */
export function withDifference(accounts: readonly Account[]): Account[] {
	const last = accounts.findLastIndex(
		(a) => a.type === 'equity' && !accounts.some((b) => b.parent === a.code)
	);
	if (last < 0 || accounts.some((a) => a.translation)) return [...accounts];
	const taken = accounts.map((a) => a.code);
	const code = codeFor('translation', '-', taken, 'account');
	const account = { ...accounts[last], code, name: 'Translation difference', translation: true };
	return accounts.toSpliced(last + 1, 0, account);
}

/** Rates to begin with: the same in the budget's months and the two years before them. */
export function firstRates(
	entities: readonly OtherEntity[],
	reporting: string,
	calendar: Calendar,
	year: number
): RateSet {
	const first = calendar.yearStart(year - 2) - 1;
	const last = calendar.yearStart(year + 1) - 1;
	const known = new Map(
		entities.flatMap(({ currency, rate }) =>
			rate === null || currency === reporting ? [] : [[currency, rate] as const]
		)
	);
	return {
		code: 'current',
		name: 'Current rates',
		actuals: true,
		rates: [...known].map(([currency, rate]) => {
			const run = { first, values: new Float64Array(last - first + 1).fill(rate) };
			return { currency, average: run, closing: run };
		})
	};
}
