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

/** How many of each thing a company has that only a part of the product knows. */
export interface ModuleCounts {
	rounds: number;
	targetScenarios: number;
	adjustments: number;
	whatIfs: number;
	rules: number;
	profiles: number;
	/** Legal entities that count in another currency than the company. */
	foreignEntities: number;
	rateSets: number;
}

const HOLDS: readonly [module: Module, of: keyof ModuleCounts, one: string, many: string][] = [
	['collecting', 'rounds', 'round is kept', 'rounds are kept'],
	['targets', 'targetScenarios', 'scenario holds targets', 'scenarios hold targets'],
	['what-ifs', 'adjustments', 'adjustment lies on a scenario', 'adjustments lie on scenarios'],
	['what-ifs', 'whatIfs', 'scenario is a what-if', 'scenarios are what-ifs'],
	['combinations', 'rules', 'rule is there', 'rules are there'],
	['seasonality', 'profiles', 'profile is there', 'profiles are there'],
	[
		'currencies',
		'foreignEntities',
		'legal entity counts in another currency',
		'legal entities count in another currency'
	],
	['currencies', 'rateSets', 'set of exchange rates is there', 'sets of exchange rates are there']
];

/** What a company has of each part, in words, by which that part cannot be off; nothing where it has nothing. */
export function heldBy(counts: ModuleCounts): Partial<Record<Module, string>> {
	const held: Partial<Record<Module, string>> = {};
	for (const [module, of, one, many] of HOLDS)
		if (counts[of]) held[module] ??= `${counts[of]} ${counts[of] === 1 ? one : many}`;
	return held;
}
