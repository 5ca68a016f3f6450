/** The package says what this is, though not under this name. */
declare module 'comlink/dist/esm/node-adapter.mjs' {
	export { default } from 'comlink/dist/esm/node-adapter';
}
