/** Parts of the product that a company can do without, switched on when they are wanted. */
import { z } from 'zod';

export const Module = z.enum([
	'collecting',
	'targets',
	'what-ifs',
	'seasonality',
	'combinations',
	'currencies'
]);
export type Module = z.infer<typeof Module>;

/** In the order of the work; what each is called, and what it is for. */
export const MODULES: readonly { code: Module; name: string; says: string }[] = [
	{
		code: 'currencies',
		name: 'Several currencies',
		says: 'legal entities that count in another, exchange rates'
	},
	{ code: 'combinations', name: 'Combination rules', says: 'which products are sold where, and the like' },
	{ code: 'seasonality', name: 'Seasonal profiles', says: 'shapes of a year that totals are spread by' },
	{ code: 'targets', name: 'Targets', says: 'what departments are to reach, set from above, and the gap' },
	{
		code: 'collecting',
		name: 'Collecting',
		says: 'rounds, submissions and their approval; without it analysts plan alone'
	},
	{ code: 'what-ifs', name: 'What-ifs', says: 'adjustments on top of a plan, bridges, ranges, goals' }
];
export const moduleName = (code: Module): string => MODULES.find((m) => m.code === code)!.name;

/** A new company begins without these; it grows into them. */
export const LATER: readonly Module[] = ['combinations', 'seasonality', 'currencies'];
