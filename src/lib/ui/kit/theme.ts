/** How the components of the library are dressed beyond the tokens of `app.css`. */
import type { ThemeConfig } from 'flowbite-svelte';

export const theme: ThemeConfig = {
	// As high as the fields beside it.
	select: { select: 'py-1' }
};
