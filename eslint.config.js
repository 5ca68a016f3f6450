import js from '@eslint/js';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';
import svelteConfig from './svelte.config.js';

/** Forbids imports that would climb up a layer; the message says why. */
function layer(files, patterns) {
	return {
		files,
		rules: { 'no-restricted-imports': ['error', { patterns }] }
	};
}
const outside = {
	group: [
		'svelte',
		'svelte/*',
		'@sveltejs/*',
		'$app/*',
		'$env/*',
		'knex',
		'better-sqlite3',
		'node:*',
		'fs',
		'path'
	],
	message: 'The core is pure computation: no interface, no database, no I/O.'
};
const throughRoutes = {
	regex: '(^|/)server/',
	message: 'The interface reaches the server through routes alone.'
};
const throughKit = {
	regex: '^flowbite-svelte$',
	message: 'Buttons, fields and dialogs come from ui/kit, where the library is dressed once.'
};

export default ts.config(
	{
		ignores: [
			'node_modules/',
			'.svelte-kit/',
			'build/',
			'data/',
			'src/lib/core/formula/grammar/parser*.ts',
			'kernels/'
		]
	},
	js.configs.recommended,
	...ts.configs.recommended,
	...svelte.configs['flat/recommended'],
	{
		languageOptions: { globals: { ...globals.browser, ...globals.node } },
		rules: {
			'no-undef': 'off',
			'@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
			'svelte/no-navigation-without-resolve': 'off',
			// Plain maps and sets are fine where nothing renders from them.
			'svelte/prefer-svelte-reactivity': 'off'
		}
	},
	{
		files: ['**/*.svelte', '**/*.svelte.ts'],
		languageOptions: { parserOptions: { parser: ts.parser, extraFileExtensions: ['.svelte'], svelteConfig } }
	},
	layer(
		['src/lib/core/**/*.ts'],
		[
			outside,
			{ regex: '(^|/)(server|ui|routes)/', message: 'The core imports nothing from server, ui or routes.' }
		]
	),
	layer(['src/lib/ui/**/*.{ts,svelte}'], [throughRoutes, throughKit]),
	layer(['src/routes/**/*.svelte'], [throughKit]),
	// The kit dresses the library's components once, for all the others.
	layer(['src/lib/ui/kit/**/*.{ts,svelte}'], [throughRoutes]),
	layer(
		['src/lib/server/**/*.ts'],
		[{ regex: '(^|/)ui/', message: 'The server knows nothing of the interface.' }]
	),
	// A test may read files to check worked figures.
	{ files: ['**/*.test.ts'], rules: { 'no-restricted-imports': 'off' } }
);
