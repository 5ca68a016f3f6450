/** Steps shared by the commands: install what is missing, build what is stale, start the server. */
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = resolve(dirname(fileURLToPath(import.meta.url)), '..');

/** Runs a command to its end; ends this process with its code when it fails. */
export function run(command, args, env = {}) {
	const done = spawnSync(command, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } });
	if (done.error) {
		console.error(`${command} could not be started: ${done.error.message}`);
		process.exit(1);
	}
	if (done.status !== 0) process.exit(done.status ?? 1);
}

const changedAt = (path) => (existsSync(join(root, path)) ? statSync(join(root, path)).mtimeMs : 0);

function newestIn(folder) {
	let newest = 0;
	for (const entry of readdirSync(join(root, folder), { withFileTypes: true })) {
		const path = join(folder, entry.name);
		newest = Math.max(newest, entry.isDirectory() ? newestIn(path) : changedAt(path));
	}
	return newest;
}

const readJson = (path) => {
	try {
		return JSON.parse(readFileSync(join(root, path), 'utf8'));
	} catch {
		return null;
	}
};

/** Whether what is installed is what the lock file says, package by package; when it was installed says nothing. */
export function isInstalled() {
	const wanted = readJson('package-lock.json')?.packages ?? {};
	const there = readJson('node_modules/.package-lock.json')?.packages ?? {};
	return Object.entries(wanted).every(
		([path, entry]) =>
			path === '' || entry.optional || entry.os || entry.cpu || there[path]?.version === entry.version
	);
}

/** Installs the packages when what is there is not what the lock file says. */
export function install() {
	if (isInstalled()) return;
	console.log('Installing packages; the first time takes a few minutes.');
	const options = ['--no-audit', '--no-fund', '--loglevel=error'];
	// A registry that lacks packages of other platforms makes npm ci refuse the lock; install keeps to it as far as it goes.
	const exact = spawnSync('npm', ['ci', ...options], { cwd: root, stdio: ['ignore', 'inherit', 'ignore'] });
	if (exact.status !== 0) run('npm', ['install', ...options]);
}

/** Builds the application when a source is newer than the last build. */
export function build() {
	const sources = Math.max(
		newestIn('src'),
		newestIn('static'),
		newestIn('templates'),
		changedAt('package-lock.json'),
		changedAt('svelte.config.js'),
		changedAt('vite.config.ts')
	);
	if (changedAt('build/index.js') > sources) return;
	console.log('Building.');
	run('npm', ['run', '--silent', 'build', '--', '--logLevel', 'warn']);
}

/** The first free port from `first` on. */
export async function freePort(first) {
	for (let port = first; port < first + 100; port++) {
		const free = await new Promise((answer) => {
			const probe = createServer();
			probe.once('error', () => answer(false));
			probe.listen(port, '127.0.0.1', () => probe.close(() => answer(true)));
		});
		if (free) return port;
	}
	throw new Error(`No port from ${first} to ${first + 99} is free.`);
}

/** Starts the built server and answers its process. */
export function serve(port, env = {}, options = {}) {
	const host = process.env.HOST ?? '127.0.0.1';
	return spawn(process.execPath, ['build/index.js'], {
		cwd: root,
		stdio: 'inherit',
		...options,
		env: {
			HOST: host,
			PORT: String(port),
			ORIGIN: process.env.ORIGIN ?? `http://${host}:${port}`,
			// A little above the upload limit, which the application itself explains.
			BODY_SIZE_LIMIT: '130M',
			// Longer than browsers and proxies keep a connection that is silent: neither is cut off while it asks.
			KEEP_ALIVE_TIMEOUT: '75',
			...process.env,
			...env
		}
	});
}

/** Passes the signals that end this process on to a child, and ends with it. */
export function endTogether(child) {
	for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill(signal));
	child.on('exit', (code) => process.exit(code ?? 0));
}

const DAY = 24 * 60 * 60 * 1000;

/**
 * The demo's day: 16 November 2026 when its data is made, kept beside them, and a day later with every day since, so
 * that what is done in it follows what it was made with.
 */
export function demoDay(database) {
	const note = `${database}.began`;
	if (!existsSync(database)) {
		mkdirSync(dirname(note), { recursive: true });
		writeFileSync(note, new Date().toISOString().slice(0, 10));
	}
	const began = existsSync(note) ? Date.parse(readFileSync(note, 'utf8')) : Date.now();
	const days = Math.max(0, Math.floor((Date.now() - began) / DAY));
	return new Date(Date.parse('2026-11-16') + days * DAY).toISOString().slice(0, 10);
}
