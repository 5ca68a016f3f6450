/** What the browser needs before the first page. */
import { askPatiently } from '$lib/ui/reread';

window.fetch = askPatiently(window.fetch.bind(window));
