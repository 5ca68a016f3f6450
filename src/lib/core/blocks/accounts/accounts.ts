/** The planned accounts by department as a block: accounts are its lines, departments that take figures its rows. */
import type { Period } from '../../calendar/calendar';
import { planFault } from '../../company/chart';
import { isBalance } from '../../company/sign';
import type { Structure } from '../../company/structure';
import { cellAt, type Cell } from '../../engine/values';
import type { Expr } from '../../formula/ast';
import type { Basis, BasisEntry, Origin } from '../../inputs/basis';
import type { CellEdit } from '../../inputs/cell';
import { typedStepFault } from '../typed-line';
import type { Block, Calculated, CellMadeOf, Inflow, Inflows } from '../block';
import { adjustedAccount, planLine } from './adjust-account';
import { basisFormula, exchangeLine } from './basis-formula';
import { accountLines, basisLine, exchangeValues, typedLine } from './lines';
import { movedLine, postedPlan, standsOn } from './posted';
import type { History } from './schema';
import { ACCOUNTS_BLOCK } from '../../engine/spec';
import { isMoney } from '../../currency/rates';
import { LOCAL } from '../../formula/units';

/** What else is asked of planned accounts: where an account in a department has its plan from. */
export interface AccountsBlock extends Block {
	origin(account: string, department: string): Origin;
	/** Whether anything is posted to it, in any department. */
	isPosted(account: string): boolean;
	/** What the basis gives in an open period, typed over or not; null where there is none. */
	basisCell(plan: Calculated, account: string, department: string, period: Period): Cell;
	/** What was typed for an account in a department, by period. */
	typedAt(plan: Calculated, account: string, department: string): (period: Period) => Cell;
}

/**
 * @param bases how accounts get their plan where no model posts to them
 * @param postings of the other blocks; asked for once any of it is needed
 * @param currencyOf in which currency a driver's amounts are, as a block says it
 */
export function accountsBlock(
	structure: Structure,
	bases: readonly BasisEntry[],
	postings: () => Inflows,
	history: History,
	currencyOf: (block: string, line: string) => string | null = () => null
): AccountsBlock {
	const { accounts, departments, departmentRow, departmentRows, rowCurrency, money } = structure;
	const basisOf = new Map(bases.map((b) => [`${b.account}\u0000${b.department}`, b.basis]));
	const postedTo = (account: string, department: string): Inflow[] =>
		postings()
			.get(account)
			?.filter((p) => p.rowsOf.has(department)) ?? [];
	const origin = (account: string, department: string): Origin => {
		const posted = postedTo(account, department);
		return posted.length
			? { kind: 'posted', models: [...new Set(posted.map((p) => p.block))] }
			: { kind: 'basis', basis: basisOf.get(`${account}\u0000${department}`) ?? { kind: 'typed' } };
	};
	/** The currency from which a driver's amounts have to be brought into that of a department; null where it is its own. */
	const foreignTo = (account: string, department: string, basis: Basis): string | null => {
		if (basis.kind !== 'driver' || !isMoney(accounts.get(account)!)) return null;
		const [block, line] = basis.driver.split('.');
		const currency = currencyOf(block, line);
		const own = rowCurrency[departmentRow.get(department) ?? -1];
		return currency === LOCAL || currency === own ? null : currency;
	};
	const formulaOf = (account: string, department: string, basis: Basis): Expr | null =>
		basisFormula(account, basis, foreignTo(account, department, basis));
	const basisExpr = (account: string, department: string): Expr | null => {
		const from = origin(account, department);
		return from.kind === 'posted'
			? postedPlan(accounts.get(account)!, postings().get(account)!)
			: formulaOf(account, department, from.basis);
	};
	const foreign = new Set(
		bases.flatMap(({ account, department, basis }) => foreignTo(account, department, basis) ?? [])
	);
	const typedAt: AccountsBlock['typedAt'] = ({ calculation, inputs }, account, department) => {
		const row = departmentRow.get(department);
		const line = typedLine(account);
		if (row === undefined || !calculation.has(ACCOUNTS_BLOCK, line)) return () => null;
		const matrix = inputs.original(ACCOUNTS_BLOCK, line) ?? calculation.matrix(ACCOUNTS_BLOCK, line);
		const { axis } = calculation;
		return (period) => {
			const t = period - axis.first;
			return t >= 0 && t < axis.length ? cellAt(matrix, row, t) : null;
		};
	};
	const basisCell: AccountsBlock['basisCell'] = (plan, account, department, period) => {
		const row = departmentRow.get(department);
		const from = origin(account, department);
		if (row === undefined || (from.kind === 'basis' && from.basis.kind === 'typed')) return null;
		const over = typedAt(plan, account, department)(period) !== null;
		const lines = [...(over ? [basisLine(account)] : []), planLine(account), account];
		const line = lines.find((l) => plan.calculation.has(ACCOUNTS_BLOCK, l));
		return line === undefined ? null : plan.calculation.cell(ACCOUNTS_BLOCK, line, row, period);
	};
	/** What a balance to which something is posted goes on from; null where it does not. */
	const stoodBefore = ({ calculation }: Calculated, account: string, row: number, period: Period): Cell => {
		const posted = postings().get(account);
		if (!posted || !isBalance(accounts.get(account)!.type)) return null;
		const line = standsOn(posted) ? movedLine(account) : account;
		return calculation.has(ACCOUNTS_BLOCK, line)
			? calculation.cell(ACCOUNTS_BLOCK, line, row, period - 1)
			: null;
	};
	const rows = departmentRows.map((d) => [d.code]);
	return {
		code: ACCOUNTS_BLOCK,
		kind: 'accounts',
		name: 'Accounts',
		told: false,
		has: 'accounts have',
		calendar: structure.calendar,
		dimensions: ['department'],
		rows,
		line(code) {
			const account = accounts.get(code);
			const rate = [...foreign].find((currency) => exchangeLine(currency) === code);
			if (rate) return { label: `${rate} exchange rate`, format: 'price', extend: null, overTime: 'average' };
			return (
				account && {
					label: account.name,
					format: account.format,
					extend: null,
					overTime: account.rollup
				}
			);
		},
		rowAt: (row) => departmentRow.get(row) ?? -1,
		idOf: (row) => departmentRows[row].code,
		rowName: (row) => departments.get(row)?.name ?? row,
		missing: (line, row) =>
			!accounts.get(line)
				? `The account “${line}”`
				: !departments.get(row)
					? `The department “${row}”`
					: null,
		currencyOf(line) {
			const account = accounts.get(line);
			return account && isMoney(account) ? money.local : null;
		},
		names: () => null,
		adjustable: () =>
			accounts.all
				.filter((a) => planFault(accounts, a.code) === null)
				.map((a) => ({ code: a.code, label: a.name, format: a.format })),
		traits: [],
		adjustmentFault: (line, step) => planFault(accounts, line) ?? typedStepFault(step),
		typingFaults(line, row) {
			const fault = planFault(accounts, line);
			return [
				...(fault ? [{ column: 'line' as const, message: fault }] : []),
				...(departmentRow.has(row)
					? []
					: [{ column: 'row' as const, message: `“${row}” is no department that takes figures` }])
			];
		},
		typedLine,
		inflows: () => new Map(),
		compile: ({ axis, typed, exchange }) => ({
			id: ACCOUNTS_BLOCK,
			dimensions: ['department'],
			rows,
			lines: [
				...[...foreign].map((currency) => exchangeValues(currency, structure, exchange, axis)),
				...accounts.all
					.filter((a) => accounts.isLeaf(a.code))
					.flatMap((account) =>
						accountLines(account, structure, {
							axis,
							exchange,
							history,
							typed: typed(ACCOUNTS_BLOCK, account.code),
							inflows: postings().get(account.code) ?? [],
							expr: (department) => basisExpr(account.code, department)
						})
					)
			]
		}),
		adjusted: adjustedAccount,
		typedOverAdjusted: true,
		adopting(without, with_, account) {
			const { axis } = with_.calculation;
			const cells = departmentRows.flatMap(({ code }, r) => {
				const typed = typedAt(without, account, code);
				const from = origin(account, code);
				// What is moved away leaves a blank; over a basis, which would show again under it, a 0.
				const blank = from.kind === 'basis' && from.basis.kind === 'typed' ? null : 0;
				const edits: CellEdit[] = [];
				for (let period = with_.open; period < axis.first + axis.length; period++) {
					const [was, value] = [without, with_].map((p) =>
						p.calculation.cell(ACCOUNTS_BLOCK, account, r, period)
					);
					if (was === value || typeof value === 'string') continue;
					const before = typed(period);
					edits.push({
						block: ACCOUNTS_BLOCK,
						line: account,
						row: code,
						period,
						before: typeof before === 'number' ? before : null,
						value: value ?? blank
					});
				}
				return edits;
			});
			return { cells, values: [] };
		},
		madeOf(plan, account, row, period): CellMadeOf {
			if (period < plan.open) return { kind: 'followed' };
			const department = departmentRows[row].code;
			const from = origin(account, department);
			if (typedAt(plan, account, department)(period) !== null) {
				const basis = from.kind === 'basis' && from.basis.kind !== 'typed' ? from.basis : null;
				return {
					kind: 'typed',
					basis,
					basisValue: basis ? basisCell(plan, account, department, period) : null
				};
			}
			const before = stoodBefore(plan, account, row, period);
			if (from.kind === 'posted' || before !== null)
				return {
					kind: 'posted',
					from: postedTo(account, department).map(({ block, line, sign, as, rowsOf }) => ({
						block,
						line,
						sign,
						as,
						rows: rowsOf.get(department)!
					})),
					before
				};
			const expr = formulaOf(account, department, from.basis);
			if (expr) return { kind: 'basis', basis: from.basis, expr };
			return {
				kind: plan.calculation.cell(ACCOUNTS_BLOCK, account, row, period) === null ? 'nothing' : 'input'
			};
		},
		origin,
		isPosted: (account) => postings().has(account),
		basisCell,
		typedAt
	};
}
