/** The thread that works out what is not saved yet. */
import { ScenarioThread } from '../scenarios/scenario-thread';
import type { PreviewWork } from './preview.worker';

export const previewThread = () =>
	new ScenarioThread<PreviewWork>(
		() => new Worker(new URL('./preview.worker.ts', import.meta.url), { type: 'module' })
	);
