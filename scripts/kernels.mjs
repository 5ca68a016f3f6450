/** Compiles kernels/vector.ts to WebAssembly and puts it, as text, where the engine finds it. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const folder = mkdtempSync(join(tmpdir(), 'kernels-'));
const out = join(folder, 'vector.wasm');
const options = ['--enable', 'simd', '--runtime', 'stub', '--noAssert', '-O3', '--importMemory'];
const compiler = ['--yes', '--package', 'assemblyscript@0.28.20', 'asc'];
const done = spawnSync('npx', [...compiler, 'kernels/vector.ts', ...options, '--outFile', out], {
	stdio: 'inherit'
});
if (done.status === 0)
	writeFileSync(
		'src/lib/core/engine/machine/vector-binary.ts',
		`/** kernels/vector.ts, compiled; made by \`npm run kernels\`. */\nexport const VECTOR_BINARY =\n\t'${readFileSync(out).toString('base64')}';\n`
	);
rmSync(folder, { recursive: true });
process.exit(done.status ?? 1);
