import { readCombinationRules } from '$lib/server/models/combinations';
import { page } from '$lib/server/doors/http';
import { dimensionTrees } from '$lib/server/models/members';

export const load = ({ locals }) =>
	page({ locals, module: 'combinations' }, async (context) => ({
		rules: await readCombinationRules(context),
		dimensions: await dimensionTrees(context.db)
	}));
