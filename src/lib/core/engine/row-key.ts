/** What a row of a block is known by. */

/** Separates members in a row's key. */
export const ROW_SEPARATOR = '|';
export const rowKey = (coordinates: readonly string[]) => coordinates.join(ROW_SEPARATOR);
