/** What Kelpwick does not sell together. */
import type { CombinationRule } from '../src/lib/core/inputs/schema';

export const rules: CombinationRule[] = [
	{
		code: 'dinghies-by-hand',
		name: 'Dinghies are not sold on the web',
		on: true,
		effect: 'block',
		lead: { dimension: 'product', under: ['dinghies'], except: [] },
		others: [{ dimension: 'channel', under: ['web'], except: [] }]
	},
	{
		code: 'direct-at-home',
		name: 'Direct sales stay in Britain',
		on: true,
		effect: 'allow',
		lead: { dimension: 'channel', under: ['direct'], except: [] },
		others: [{ dimension: 'region', under: ['south', 'lakes', 'islands'], except: [] }]
	},
	{
		code: 'islands-light',
		name: 'Islands: no touring boats',
		on: false,
		effect: 'block',
		lead: { dimension: 'region', under: ['islands'], except: [] },
		others: [{ dimension: 'product', under: ['scoter-16', 'plover-tour'], except: [] }]
	}
];
