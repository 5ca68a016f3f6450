/** What a schedule's columns and lines are called in formulas. */
import type { BlockNames, NamedQuantity } from '../../formula/check';
import { plain, type MoneyUnits } from '../../formula/units';
import { columnQuantity, lineQuantity } from './columns';
import { SHARE, SHARE_IN_FORCE, sharesCode, type ScheduleDefinition } from './schema';
import { dimensionsOf } from './shape';

export const scheduleNames = (definition: ScheduleDefinition, money: MoneyUnits): BlockNames => ({
	code: definition.code,
	dimensions: dimensionsOf(definition),
	accountColumns: definition.columns.filter((c) => c.kind === 'account' && !c.formula).map((c) => c.code),
	lines: [
		...definition.columns.map((c) => ({
			code: c.code,
			label: c.label,
			quantity: columnQuantity(definition, c, money)
		})),
		...definition.lines.map((l) => ({
			code: l.code,
			label: l.label,
			quantity: lineQuantity(definition, l, money)
		}))
	]
});

/** Lines by department. */
export const sharesNames = (definition: ScheduleDefinition, money: MoneyUnits): BlockNames => ({
	code: sharesCode(definition.code),
	dimensions: [...dimensionsOf(definition), 'department'],
	lines: [
		...(definition.divided ? SHARES : []),
		...definition.lines
			.filter((l) => l.adds)
			.map((l) => ({ code: l.code, label: l.label, quantity: lineQuantity(definition, l, money) }))
	]
});

const SHARES: readonly NamedQuantity[] = [
	{ code: SHARE, label: 'Share', quantity: plain },
	{ code: SHARE_IN_FORCE, label: 'Share in force', quantity: plain }
];
