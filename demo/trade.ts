/** How Kelpwick trades: units by product, channel and region in a month, as they were and as they were planned. */
import { dealers, items, type Item } from './people';

export interface Cell {
	item: Item;
	channel: 'dealer' | 'direct' | 'web';
	region: 'south' | 'lakes' | 'islands' | 'baltic';
	share: number;
}
const CHANNELS = [
	['dealer', 0.52],
	['direct', 0.2],
	['web', 0.28]
] as const;
const REGIONS = [
	['south', 0.42],
	['lakes', 0.24],
	['islands', 0.16],
	['baltic', 0.18]
] as const;

/** Combinations that are sold at all: big dinghies are not sold on the web, accessories not to islanders directly. */
export const cells: Cell[] = items.flatMap((item) =>
	CHANNELS.flatMap(([channel, c]) =>
		REGIONS.filter(
			([region]) =>
				!(channel === 'web' && item.family === 'dinghies') &&
				!(channel === 'direct' && region === 'baltic') &&
				!(channel === 'direct' && region === 'islands' && item.family === 'accessories')
		).map(([region, r]) => ({ item, channel, region, share: c * r }))
	)
);

/** April to March: boats sell in spring and early summer. */
const SEASON = [1.35, 1.55, 1.5, 1.25, 1.0, 0.75, 0.55, 0.5, 0.7, 0.6, 0.9, 1.35];
export const season = (period: number) => SEASON[(period - 3 + 1200) % 12];

/** Growth since April 2024, as a factor. */
export const growth = (period: number) => 1 + 0.055 * ((period - (2024 * 12 + 3)) / 12);

/** Units expected in a month, before chance. */
export const expectedUnits = (cell: Cell, period: number) =>
	cell.item.units * cell.share * season(period) * growth(period);

/** Price index: list prices rise 3 % every April. */
export const priceIndex = (period: number) => Math.pow(1.03, Math.floor((period - (2024 * 12 + 3)) / 12));
export const materialIndex = (period: number) => Math.pow(1.0025, period - (2024 * 12 + 3));

export const DISCOUNT = { dealer: 0.22, direct: 0.04, web: 0.06 };

export const dealersIn = (region: string) => dealers.filter(([, , r]) => r === region).map(([code]) => code);
