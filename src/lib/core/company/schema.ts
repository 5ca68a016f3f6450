/** What a company consists of, as plain typed data. Zod schemas stand where data enters; the types come from them. */
import type { Module } from './modules';
import { z } from 'zod';
import type { CalendarSpec } from '../calendar/spec';
import { isNoKey, textFault } from '../text';

/** No amount is larger, whichever way it comes: cents of it are still exact. */
export const MOST_AMOUNT = 1e15;
/** An amount of money. */
export const Money = z.number().min(-MOST_AMOUNT).max(MOST_AMOUNT);

/** A check for text that people enter: nothing in it that cannot be seen. @param lines whether it may have several lines */
export const readable =
	(lines = false) =>
	(text: string, context: z.RefinementCtx): void => {
		const fault = textFault(text, lines);
		if (fault) context.addIssue({ code: 'custom', message: fault });
	};
const isKey = (name: string) => !isNoKey(name);

/** Codes are identities: they never change, names may. */
export const Code = z
	.string()
	.regex(/^[A-Za-z0-9][A-Za-z0-9._-]*$/, 'a code of letters, digits, dot, dash and underscore')
	.max(64);

/** Names of lines and models must also be usable in formulas. */
export const Identifier = z
	.string()
	.regex(/^[A-Za-z_][A-Za-z0-9_]*$/, 'a name of letters, digits and underscore that starts with a letter')
	.max(64)
	.refine(isKey, 'another name');

export const AccountType = z.enum([
	'revenue',
	'expense',
	'asset',
	'liability',
	'equity',
	'statistical',
	'rate'
]);
export type AccountType = z.infer<typeof AccountType>;

export const TimeRollup = z.enum(['sum', 'last', 'average']);
export type TimeRollup = z.infer<typeof TimeRollup>;

export const NumberFormat = z.enum(['money', 'number', 'percent', 'price']);
export type NumberFormat = z.infer<typeof NumberFormat>;

/** Where an account stands in the cash flow statement (IAS 7): under which activity, in none as never paid, or as cash itself. */
export const CashFlow = z.enum(['operating', 'investing', 'financing', 'none', 'cash']);
export type CashFlow = z.infer<typeof CashFlow>;

export interface Account {
	code: string;
	name: string;
	parent: string | null;
	type: AccountType;
	rollup: TimeRollup;
	format: NumberFormat;
	/** Where it and what is under it stand in the cash flow; null: as its heading, or as its type has it (see `cashFlows`). */
	cashFlow?: CashFlow | null;
	/** The one equity account in which translation differences stand, in reporting currency. */
	translation?: boolean;
}
export interface LedgerAccount {
	code: string;
	name: string;
	/** Planning account it is folded into; null while unmapped. */
	account: string | null;
}
export interface Entity {
	code: string;
	name: string;
	/** In which its departments plan and its books are kept (ISO 4217). */
	currency: string;
}
export interface Department {
	code: string;
	name: string;
	parent: string | null;
	entity: string;
}
export interface Member {
	code: string;
	name: string;
	parent: string | null;
	/** Kept with what it holds, and offered no more; all under it as well. */
	retired: boolean;
	attributes: Record<string, string>;
}
/** A dimension and an attribute of its members. */
export const AttributePath = z
	.string()
	.max(130)
	.regex(/^[^.]+\.[^.]+$/, 'dimension.attribute');

export interface Dimension {
	code: string;
	name: string;
	members: Member[];
}

export interface Company {
	name: string;
	currency: string;
	calendar: CalendarSpec;
	/** Decimals to which money is entered. */
	decimals: number;
	/** Parts of the product that it does without; none where nothing is said. */
	off?: readonly Module[];
}

/** Members by dimension. */
export const Members = z
	.record(z.string().max(64), z.string().max(64))
	.refine((r) => Object.keys(r).length <= 6, 'at most 6 dimensions');
