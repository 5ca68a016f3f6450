import { defineConfig } from 'vitest/config';

// Each file has a server and a browser of its own; two of them keep two cores busy.
export default defineConfig({
	test: {
		globalSetup: 'tests/support/prepare.ts',
		include: ['tests/e2e/**/*.test.ts'],
		maxWorkers: 2,
		testTimeout: 180_000,
		hookTimeout: 180_000
	}
});
