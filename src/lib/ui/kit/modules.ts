/** Which parts of the product are on: what is off is out of sight. */
import { getContext, setContext } from 'svelte';
import type { Module } from '../../core/company/modules';

const KEY = Symbol('modules');
type IsOn = (module: Module) => boolean;

export const provideModules = (off: () => readonly Module[]): void =>
	void setContext<IsOn>(KEY, (module) => !off().includes(module));
/** Where nobody says, everything is. */
export const useModules = (): IsOn => getContext<IsOn | undefined>(KEY) ?? (() => true);
