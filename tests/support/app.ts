/** A running application on a company of its own, for tests through HTTP and the browser. */
import { spawn, type ChildProcess } from 'node:child_process';
import { copyFileSync, mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { loadFolder } from '../../src/lib/server/transfer/folder';
import { openDatabase } from '../../src/lib/server/platform/db/connect';
import { preparedFile } from './prepare';

export interface App {
	url: string;
	database: string;
	process: ChildProcess;
	/** What the server has printed so far. */
	said(): string;
	stop(): Promise<void>;
	/** Starts a server on the same database again. */
	restart(): Promise<App>;
}

function freePort(): Promise<number> {
	return new Promise((answer, fail) => {
		const probe = createServer();
		probe.once('error', fail);
		probe.listen(0, '127.0.0.1', () => {
			const address = probe.address();
			probe.close(() => answer(typeof address === 'object' && address ? address.port : 0));
		});
	});
}

/** Starts the built application; `folder` is loaded first, null leaves the database empty. */
export async function startApp(folder: string | null, env: Record<string, string> = {}): Promise<App> {
	const home = mkdtempSync(join(tmpdir(), 'yardstave-'));
	const database = join(home, 'company.sqlite');
	const ready = folder && preparedFile(folder);
	if (ready) copyFileSync(ready, database);
	else if (folder) {
		const db = await openDatabase(database);
		await loadFolder(db, folder);
		await db.destroy();
	}
	// What nobody asks for in a test is not calculated ahead.
	return serve(home, database, { YARDSTAVE_AHEAD: '0', ...env });
}

/** Starts the built application on a database. */
export async function serve(home: string, database: string, env: Record<string, string>): Promise<App> {
	const port = await freePort();
	const url = `http://127.0.0.1:${port}`;
	const child = spawn(process.execPath, ['build/index.js'], {
		stdio: ['ignore', 'pipe', 'inherit'],
		env: {
			...process.env,
			HOST: '127.0.0.1',
			PORT: String(port),
			ORIGIN: url,
			BODY_SIZE_LIMIT: '130M',
			KEEP_ALIVE_TIMEOUT: '75',
			YARDSTAVE_DATABASE: database,
			YARDSTAVE_DEMO: '1',
			YARDSTAVE_TODAY: '2026-11-16',
			YARDSTAVE_LOG: 'error',
			...env
		}
	});
	let said = '';
	child.stdout.setEncoding('utf8').on('data', (text: string) => (said += text));
	const ended = new Promise<void>((done) => child.once('exit', () => done()));
	for (let i = 0; ; i++) {
		try {
			await fetch(`${url}/signin`);
			break;
		} catch {
			if (i > 200 || child.exitCode !== null) throw new Error('The application did not start.');
			await new Promise((r) => setTimeout(r, 50));
		}
	}
	const halt = async () => {
		child.kill('SIGKILL');
		await ended;
	};
	return {
		url,
		database,
		process: child,
		said: () => said,
		async stop() {
			await halt();
			rmSync(home, { recursive: true, force: true });
		},
		async restart() {
			await halt();
			return serve(home, database, env);
		}
	};
}

/** A signed-in person who talks to the API. */
export class Client {
	private constructor(
		readonly url: string,
		private readonly cookie: string
	) {}

	/** By one click, as in the demo; nobody, when no e-mail is given. */
	static signIn(app: App, email: string | null): Promise<Client> {
		return email === null ? Promise.resolve(new Client(app.url, '')) : Client.enter(app, 'demo', { email });
	}
	static withPassword(app: App, email: string, password: string): Promise<Client> {
		return Client.enter(app, 'password', { email, password });
	}
	private static async enter(app: App, action: string, form: Record<string, string>): Promise<Client> {
		const answer = await fetch(`${app.url}/signin?/${action}`, {
			method: 'POST',
			redirect: 'manual',
			headers: { origin: app.url, 'content-type': 'application/x-www-form-urlencoded' },
			body: new URLSearchParams(form)
		});
		const cookie = answer.headers
			.getSetCookie()
			.map((c) => c.split(';')[0])
			.join('; ');
		if (!cookie) throw new Error(`${form.email} could not sign in: ${answer.status}`);
		return new Client(app.url, cookie);
	}

	/** Headers that say who asks. */
	get headers(): Record<string, string> {
		return { cookie: this.cookie, origin: this.url };
	}
	fetch(path: string, init: RequestInit = {}): Promise<Response> {
		return fetch(this.url + path, {
			redirect: 'manual',
			...init,
			headers: { ...this.headers, ...(init.headers as Record<string, string>) }
		});
	}
	async get<T = Answer>(path: string): Promise<T & { status: number }> {
		const answer = await this.fetch(`/api/v1/${path}`);
		return { ...((await answer.json()) as T), status: answer.status };
	}
	async post<T = Answer>(path: string, value: unknown): Promise<T & { status: number }> {
		const answer = await this.fetch(`/api/v1/${path}`, {
			method: 'POST',
			headers: { 'content-type': 'application/json' },
			body: JSON.stringify(value)
		});
		return { ...((await answer.json()) as T), status: answer.status };
	}
	async send<T = Answer>(
		path: string,
		name: string,
		content: string,
		request: unknown
	): Promise<T & { status: number }> {
		const form = new FormData();
		form.set('file', new File([content], name, { type: 'text/csv' }));
		form.set('request', JSON.stringify(request));
		const answer = await this.fetch(`/api/v1/${path}`, { method: 'POST', body: form });
		return { ...((await answer.json()) as T), status: answer.status };
	}
}

export interface Answer {
	error?: {
		message: string;
		faults: { message: string; row?: number; column?: string; span?: { from: number; to: number } }[];
		data: unknown;
	};
	// Tests look into many different answers.
	// eslint-disable-next-line @typescript-eslint/no-explicit-any
	[key: string]: any;
}
