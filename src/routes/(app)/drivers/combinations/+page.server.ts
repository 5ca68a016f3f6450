import { readCombinationRules } from '$lib/server/combinations';
import { page } from '$lib/server/http';
import { dimensionTrees } from '$lib/server/members';

export const load = ({ locals }) =>
	page({ locals }, async (db, user) => ({
		rules: await readCombinationRules(db, user),
		dimensions: await dimensionTrees(db)
	}));
