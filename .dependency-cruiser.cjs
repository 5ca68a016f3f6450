/**
 * Which rooms of the code may lean on which. Each room of the core leans on those before it in the list, and no file
 * stands in a circle. A new room gets its place here.
 */
const CORE = [
	'text\\.ts',
	'calendar/',
	'functions/',
	'formula/',
	'engine/',
	'company/',
	'inputs/',
	'blocks/schedule/',
	'blocks/driver-model/',
	'blocks/accounts/',
	'scenario/',
	'statements/',
	'views/',
	'analysis/',
	'explain/',
	'rounds/'
];
const core = CORE.map((room) => `^src/lib/core/${room}`);

module.exports = {
	forbidden: [
		{
			name: 'no circle',
			comment: 'Files that need each other are one file, or need a third.',
			severity: 'error',
			from: {},
			to: { circular: true }
		},
		{
			name: 'every room of the core has its place',
			severity: 'error',
			from: { path: '^src/lib/core/', pathNot: core },
			to: {}
		},
		...core.slice(0, -1).map((room, i) => ({
			name: `${CORE[i].replace(/\\/g, '')} is below`,
			comment: 'It would lean on a room that leans on it.',
			severity: 'error',
			from: { path: room, pathNot: '\\.test\\.ts$' },
			to: { path: core.slice(i + 1) }
		}))
	],
	options: {
		tsConfig: { fileName: 'tsconfig.json' },
		tsPreCompilationDeps: true,
		doNotFollow: { path: ['node_modules', '^\\.svelte-kit'] },
		exclude: { path: '\\.(css|svg|png)$' },
		extraExtensionsToScan: []
	}
};
