/** Columns of a schedule's rows, as the calculation has them: dates as day numbers, texts and choices as codes. */
import { fromIsoDate } from '../../calendar/dates';
import { textCode } from '../../engine/texts';
import { date, plain, text, unitOf, type MoneyUnits, type Quantity } from '../../formula/units';
import { departmentColumn, type ColumnValue, type ScheduleColumn, type ScheduleDefinition } from './schema';

/** What money of a schedule counts in: the currency of a row's department where it has one. */
const moneyWord = (definition: ScheduleDefinition): string =>
	departmentColumn(definition) ? 'local' : 'money';

/** “per hour” is money per hour; any other unit of money says itself what it counts. */
const ofMoney = (definition: ScheduleDefinition, unit: string): string =>
	unit === '' || /^(per\b|\/)/i.test(unit.trim()) ? `${moneyWord(definition)} ${unit}` : unit;

export function columnQuantity(
	definition: ScheduleDefinition,
	{ kind, unit }: ScheduleColumn,
	money: MoneyUnits
): Quantity {
	switch (kind) {
		case 'date':
			return date;
		case 'money':
			return unitOf(ofMoney(definition, unit), 'money', money);
		case 'percent':
		case 'yes-no':
			return plain;
		case 'number':
			return unitOf(unit, 'number', money);
		default:
			return text;
	}
}
export const lineQuantity = (
	definition: ScheduleDefinition,
	{ unit, format }: { unit: string; format: string },
	money: MoneyUnits
): Quantity => unitOf(format === 'money' ? ofMoney(definition, unit) : unit, format, money);

/** A column's value as the number that calculations use; null is blank. */
export function columnNumber(kind: ScheduleColumn['kind'], value: ColumnValue | undefined): number | null {
	if (value === undefined || value === '') return null;
	if (typeof value === 'number') return value;
	if (typeof value === 'boolean') return Number(value);
	return kind === 'date' ? fromIsoDate(value) : textCode(value);
}
