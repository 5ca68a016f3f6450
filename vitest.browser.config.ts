import { defineConfig } from 'vitest/config';

// One server and one browser at a time: the journeys share a machine with two cores.
export default defineConfig({
	test: {
		globalSetup: 'tests/support/prepare.ts',
		include: ['tests/e2e/**/*.test.ts'],
		fileParallelism: false,
		testTimeout: 180_000,
		hookTimeout: 180_000
	}
});
