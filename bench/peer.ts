/** Another grid in the browser that ours is measured in: a page of its own, with figures fetched as ours are. */
import { createServer } from 'node:http';
import { build } from 'esbuild';
import type { Shape } from './peer-page';

const PAGE = `<!doctype html><meta charset="utf-8"><title>Another grid</title>
<style>html, body { margin: 0; height: 100% } main { width: 1140px; height: 620px } revo-grid { height: 100% }</style>
<main></main><script type="module" src="/page.js"></script>`;

/** Serves the page at an address of its own while `run` goes on. */
export async function withPeer(shape: Shape, run: (url: string) => Promise<void>): Promise<void> {
	const { outputFiles } = await build({
		entryPoints: ['bench/peer-page.ts'],
		bundle: true,
		write: false,
		format: 'esm',
		minify: true,
		outfile: 'page.js'
	});
	const figure = new Intl.NumberFormat('en-GB');
	const source = JSON.stringify(
		Array.from({ length: shape.rows }, (_, r) => ({
			name: `Product ${r}`,
			...Object.fromEntries(
				Array.from({ length: shape.columns }, (_, c) => [`c${c}`, figure.format(((r * 7 + c) % 50) + 1)])
			)
		}))
	);
	const files: Record<string, [type: string, content: string]> = {
		'/': ['text/html', PAGE],
		'/page.js': ['text/javascript', outputFiles[0].text],
		'/shape': ['application/json', JSON.stringify(shape)],
		'/rows': ['application/json', source]
	};
	const server = createServer((request, answer) => {
		const [type, content] = files[request.url ?? ''] ?? ['text/plain', ''];
		answer.setHeader('content-type', type);
		answer.end(content);
	});
	await new Promise<void>((listening) => server.listen(0, '127.0.0.1', listening));
	const address = server.address();
	try {
		await run(`http://127.0.0.1:${typeof address === 'object' && address ? address.port : 0}/`);
	} finally {
		server.close();
		server.closeAllConnections();
	}
}
