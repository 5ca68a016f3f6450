/** A department as it is set up, with who answers for it. */
import type { Department } from '../company/schema';

export interface DepartmentRow extends Department {
	depth: number;
	leaf: boolean;
	/** Figures stand in it: it can have none under it, and not go. */
	holds: boolean;
	/** Names of those whose role names this very department: who plans it, and who reviews it. */
	plans: string[];
	reviews: string[];
}
