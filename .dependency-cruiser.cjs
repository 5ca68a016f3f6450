/**
 * Which rooms of the code may lean on which: within a layer each on those before it in its list. No file stands in a
 * circle. A new room gets its place here.
 */
const ROOMS = {
	core: [
		'text\\.ts',
		'encoding\\.',
		'thread\\.',
		'calendar/',
		'functions/',
		'formula/',
		'engine/',
		'company/',
		'inputs/',
		'currency/',
		'blocks/block\\.ts',
		'blocks/made-once\\.ts',
		'blocks/names\\.ts',
		'blocks/definition\\.ts',
		'blocks/typed-line\\.ts',
		'blocks/attribute-lines\\.ts',
		'blocks/schedule/',
		'blocks/driver-model/',
		'blocks/accounts/',
		'blocks/kinds\\.',
		'scenario/',
		'statements/',
		'views/',
		'analysis/',
		'explain/',
		'rounds/'
	],
	server: [
		'platform/',
		'company/',
		'scenarios/',
		'setup/',
		'people/',
		'transfer/',
		'rounds/',
		'ledger/',
		'founding/',
		'reports/',
		'accounts/',
		'models/',
		'schedules/',
		'changes/',
		'doors/'
	],
	ui: [
		'writing/',
		'kit/',
		'grid/',
		'shell/',
		'founding/',
		'people/',
		'map/',
		'figure/',
		'entry/',
		'setup/',
		'scenarios/',
		'rounds/',
		'design/',
		'models/',
		'schedules/',
		'accounts/',
		'what-if/'
	]
};

/** Rules of one layer. */
function inOrder(layer) {
	const rooms = ROOMS[layer].map((room) => `^src/lib/${layer}/${room}`);
	return [
		{
			name: `every room of ${layer} has its place`,
			severity: 'error',
			from: { path: `^src/lib/${layer}/`, pathNot: rooms },
			to: {}
		},
		...rooms.slice(0, -1).map((room, i) => ({
			name: `${layer}/${ROOMS[layer][i].replace(/\\/g, '')} is below`,
			comment: 'It would lean on a room that leans on it.',
			severity: 'error',
			from: { path: room, pathNot: '\\.test\\.ts$' },
			to: { path: rooms.slice(i + 1) }
		}))
	];
}

module.exports = {
	forbidden: [
		{
			name: 'no circle',
			comment: 'Files that need each other are one file, or need a third.',
			severity: 'error',
			from: {},
			to: { circular: true }
		},
		...Object.keys(ROOMS).flatMap(inOrder)
	],
	options: {
		tsConfig: { fileName: 'tsconfig.json' },
		tsPreCompilationDeps: true,
		doNotFollow: { path: ['node_modules', '^\\.svelte-kit'] },
		exclude: { path: '\\.(css|svg|png)$' }
	}
};
