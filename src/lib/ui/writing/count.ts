/** How many, as this user reads numbers. */
import { counted as countedIn, digits as digitsIn } from '../../core/company/counted';
import { userStyle } from './user-style.svelte';

export const digits = (n: number): string => digitsIn(n, userStyle.decimal);
/** "1 row", "2 rows"; `many` where another s does not do. */
export const counted = (n: number, one: string, many?: string): string =>
	countedIn(n, one, many, userStyle.decimal);
