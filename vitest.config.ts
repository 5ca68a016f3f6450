import { defineConfig } from 'vitest/config';

export default defineConfig({
	test: {
		include: ['src/**/*.test.ts', 'tests/unit/**/*.test.ts', 'demo/**/*.test.ts'],
		testTimeout: 60_000,
		hookTimeout: 60_000
	}
});
