/** A web worker as a thread. */
import type { Started } from '../../core/thread';

export const browserThread = (worker: Worker): Started => ({
	endpoint: worker,
	end: () => worker.terminate(),
	failed: (hear) => worker.addEventListener('error', (e) => hear(new Error(e.message)))
});
