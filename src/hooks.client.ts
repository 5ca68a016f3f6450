/** What the browser needs before the first page. */
import { askPatiently } from '$lib/ui/kit/reread';

window.fetch = askPatiently(window.fetch.bind(window));

// A page that the browser has kept shows nothing of what was there: it is asked for anew.
window.addEventListener('pageshow', (event) => {
	if (event.persisted) location.reload();
});
