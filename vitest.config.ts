import { svelte } from '@sveltejs/vite-plugin-svelte';
import { defineConfig } from 'vitest/config';

export default defineConfig({
	// Runes in .svelte.ts modules need the compiler.
	plugins: [svelte()],
	test: {
		globalSetup: 'tests/support/prepare.ts',
		include: ['src/**/*.test.ts', 'tests/unit/**/*.test.ts', 'demo/**/*.test.ts'],
		// Months that make sense are counted from today.
		env: { YARDSTAVE_TODAY: '2026-11-16' },
		// Left to itself the runner keeps one core idle.
		maxWorkers: '100%',
		// Modules are read, and the engine's loops made fast, once a worker instead of once a file: half of the time.
		// A file leaves nothing behind in a module or in the environment.
		isolate: false,
		testTimeout: 60_000,
		hookTimeout: 60_000
	}
});
