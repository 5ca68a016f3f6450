/** The demo in one command: installs, builds, makes the demo data, starts. `--fresh` begins with new data. */
import { existsSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { build, demoDay, endTogether, freePort, install, root, run, serve } from './tasks.mjs';

install();
build();
const database = join(root, 'data', 'demo.sqlite');
if (process.argv.includes('--fresh'))
	for (const end of ['', '-wal', '-shm', '.began']) rmSync(database + end, { force: true });
const env = { YARDSTAVE_DATABASE: database, YARDSTAVE_DEMO: '1', YARDSTAVE_TODAY: demoDay(database) };
if (!existsSync(database)) {
	console.log('Making the demo data.');
	run('npx', ['--no-install', 'tsx', 'scripts/company.ts', 'load', 'demo/company'], env);
}
const port = await freePort(Number(process.env.PORT ?? 5173));
console.log(
	`\nKelpwick Boatworks, the demo company, is at  http://127.0.0.1:${port}\nOctober's ledger file waits in demo/inbox. Ctrl+C ends it.\n`
);
endTogether(
	serve(port, {
		...env,
		YARDSTAVE_LOG: process.env.YARDSTAVE_LOG ?? 'warn',
		HOST: '127.0.0.1',
		ORIGIN: `http://127.0.0.1:${port}`
	})
);
