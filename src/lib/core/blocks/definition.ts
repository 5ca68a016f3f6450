/** What the checks of all kinds of block have in common. */
import type { Department } from '../company/schema';
import type { Tree } from '../company/tree';
import type { NameSources } from './names';

/** One mistake: where in a definition (`lines.price.formula`), and for formulas where in the text. */
export interface DefinitionFault {
	column: string;
	message: string;
	span?: { from: number; to: number };
}

/** What a definition may speak of. */
export interface DefinitionSources extends NameSources {
	departments: Tree<Department>;
}
