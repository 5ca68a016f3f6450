/** Starts the worker from its source, where nothing has been built: in tests and development. */
import { register } from 'tsx/esm/api';

register();
await import('./worker.ts');
