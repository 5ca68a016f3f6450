/** All checks in one command: installs what is missing, then lint, types, unit and browser tests. */
import { existsSync } from 'node:fs';
import { build, install, run } from './tasks.mjs';

install();
if (!existsSync('/usr/bin/chromium') || !existsSync('/usr/bin/chromedriver')) {
	console.log('Installing Chromium and ChromeDriver from Debian’s packages.');
	const asRoot = process.getuid?.() === 0 ? [] : ['sudo'];
	const [command, ...args] = [...asRoot, 'apt-get'];
	run(command, [...args, 'update', '-qq']);
	run(command, [...args, 'install', '-y', '-qq', '--no-install-recommends', 'chromium', 'chromium-driver'], {
		DEBIAN_FRONTEND: 'noninteractive'
	});
}
run('npx', ['--no-install', 'svelte-kit', 'sync']);
run('npm', ['run', '--silent', 'lint']);
run('npm', ['run', '--silent', 'check']);
run('npm', ['run', '--silent', 'test:unit']);
build();
run('npm', ['run', '--silent', 'test:browser']);
