/** Arithmetic typed into a cell: =1200*1.05, =round(100/3). It is a formula that names nothing. */
import { checkFormula, type Names } from '../formula/check';
import { NO_MONEY } from '../formula/units';
import { bareAxis } from './axis';
import { Calculation } from './calculation';

const NOTHING: Names = {
	own: { code: 'cell', dimensions: [], lines: [] },
	money: NO_MONEY,
	blocks: [],
	accounts: [],
	dimensions: [],
	scenarios: []
};

/** The value of a formula of numbers alone, to fifteen digits; null when it is none, or an error. */
export function arithmetic(text: string): number | null {
	const { expr } = checkFormula(text, NOTHING);
	if (!expr) return null;
	const lines = [{ code: 'value', additive: true, rules: [{ expr }] }];
	const calculation = new Calculation(bareAxis(1), [{ id: 'cell', dimensions: [], rows: [[]], lines }]);
	const value = calculation.calculate().cell('cell', 'value', 0, 0);
	return typeof value === 'number' ? Number(value.toPrecision(15)) : null;
}
