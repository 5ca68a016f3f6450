import { readCombinationRules } from '$lib/server/models/combinations';
import { page } from '$lib/server/doors/http';
import { dimensionTrees } from '$lib/server/models/members';

export const load = ({ locals }) =>
	page({ locals }, async (db, user) => ({
		rules: await readCombinationRules(db, user),
		dimensions: await dimensionTrees(db)
	}));
