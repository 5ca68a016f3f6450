/** Which fields of an answer are periods; in the answer they stand in the calendar's writing. */
export const SCENARIO_PERIODS = ['first', 'last', 'actualsThrough'] as const;
export const PLAN_PERIODS = ['open', 'last', 'period'] as const;
export const MODEL_PERIODS = ['from', 'to', 'open', 'last', 'period'] as const;
export const SCHEDULE_PERIODS = ['from', 'to', 'open', 'last', 'first'] as const;
/** Fields of it that are named by codes of columns, which may be words such as those. */
export const BY_COLUMN = ['values', 'computed', 'adjusted', 'choices'];
/** Of sets of exchange rates, and of rates that are loaded. */
export const RATE_PERIODS = ['first', 'last', 'from', 'to', 'period'] as const;
export const REPORT_PERIODS = ['period', 'from', 'to'] as const;
export const FEED_PERIODS = ['month', 'period'] as const;
export const CLOSE_PERIODS = ['month', 'last', 'reaches', 'closedThrough'] as const;
