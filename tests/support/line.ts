/** A connection to the application that can be cut, made slow, and led to another process. */
import { connect, createServer, type Socket } from 'node:net';

export interface Line {
	url: string;
	/** Breaks what is open and takes nothing new. */
	cut(): void;
	/** Leads to an application, and takes connections again. */
	lead(url: string): void;
	/** Holds what the page sends back for so long (milliseconds). */
	delay(wait: number): void;
	stop(): Promise<void>;
}

export async function line(): Promise<Line> {
	let port = 0;
	let open = false;
	let wait = 0;
	const sockets = new Set<Socket>();
	const server = createServer((page) => {
		if (!open) return void page.destroy();
		const app = connect(port, '127.0.0.1');
		for (const s of [page, app]) {
			sockets.add(s);
			s.on('error', () => s.destroy());
			s.on('close', () => {
				sockets.delete(s);
				page.destroy();
				app.destroy();
			});
		}
		app.pipe(page);
		page.on('data', (data) => setTimeout(() => !app.destroyed && app.write(data), wait));
	});
	await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
	const address = server.address();
	if (address === null || typeof address === 'string') throw new Error('There is no port.');
	const cut = () => {
		open = false;
		for (const s of sockets) s.destroy();
	};
	return {
		url: `http://127.0.0.1:${address.port}`,
		cut,
		lead(url) {
			port = Number(new URL(url).port);
			open = true;
		},
		delay(ms) {
			wait = ms;
		},
		stop() {
			cut();
			return new Promise((done) => server.close(() => done()));
		}
	};
}
