/** For developers: the demo data under a server that reloads on every change. */
import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { demoDay, endTogether, install, root, run } from './tasks.mjs';

install();
const database = process.env.YARDSTAVE_DATABASE ?? join(root, 'data', 'dev.sqlite');
const env = { YARDSTAVE_DATABASE: database, YARDSTAVE_DEMO: '1', YARDSTAVE_TODAY: demoDay(database) };
if (!existsSync(database))
	run('npx', ['--no-install', 'tsx', 'scripts/company.ts', 'load', 'demo/company'], env);
endTogether(
	spawn('npx', ['--no-install', 'vite', 'dev'], {
		cwd: root,
		stdio: 'inherit',
		env: { ...process.env, ...env }
	})
);
