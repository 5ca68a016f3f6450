import { takesWithKey } from '$lib/server/doors/setting-up';
import { HistoryAsked, lookAtHistory } from '$lib/server/founding/found';

/** Looks at the figures that a company is to begin with; changes nothing. */
export const POST = takesWithKey(HistoryAsked, async ({ answers }) => lookAtHistory(answers));
