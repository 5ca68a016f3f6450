/** Currencies by their codes (ISO 4217). */

/** All that are in use, as the platform knows them. */
export const CURRENCIES: readonly string[] = Intl.supportedValuesOf('currency');
const KNOWN = new Set(CURRENCIES);

export const isCurrency = (code: string): boolean => KNOWN.has(code);

/** Digits after the decimal sign in which amounts are written: 2 for most, 0 for yen. */
export const decimalsOf = (code: string): number =>
	new Intl.NumberFormat('en', { style: 'currency', currency: code }).resolvedOptions()
		.maximumFractionDigits ?? 2;
