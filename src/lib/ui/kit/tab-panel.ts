/** Ties what a tab shows to the tab, for those who cannot see that they belong together (WAI-ARIA's pattern for tabs). */
import type { HTMLAttributes } from 'svelte/elements';

export const tabId = (panel: string, key: string) => `${panel}-tab-${key}`;

/** What the element wears that shows the tab `key`; `panel` is its id, which the tabs are told as well. */
export function tabPanel(panel: string, key: string): HTMLAttributes<HTMLElement> {
	return { id: panel, role: 'tabpanel', 'aria-labelledby': tabId(panel, key) };
}
