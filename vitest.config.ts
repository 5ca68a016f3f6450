import { svelte } from '@sveltejs/vite-plugin-svelte';
import { defineConfig } from 'vitest/config';

export default defineConfig({
	// Runes in .svelte.ts modules need the compiler.
	plugins: [svelte()],
	test: {
		include: ['src/**/*.test.ts', 'tests/unit/**/*.test.ts', 'demo/**/*.test.ts'],
		testTimeout: 60_000,
		hookTimeout: 60_000
	}
});
