/** Settings from the environment, read in one place. */
import { resolve } from 'node:path';

/** The database file; YARDSTAVE_DATABASE, else data/yardstave.sqlite. */
export const databaseFile = () => resolve(process.env.YARDSTAVE_DATABASE ?? 'data/yardstave.sqlite');

/** One-click sign-in without passwords: for the demo alone. */
export const isDemo = () => process.env.YARDSTAVE_DEMO === '1';

/** Largest upload in bytes. */
export const UPLOAD_LIMIT = 128 * 1024 * 1024;

/** Today as an ISO date; YARDSTAVE_TODAY sets it for the demo and tests. */
export const today = () => process.env.YARDSTAVE_TODAY ?? new Date().toISOString().slice(0, 10);
