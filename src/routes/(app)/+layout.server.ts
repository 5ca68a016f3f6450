import { actionsOf, stagesFor } from '$lib/server/doors/frame';
import { page } from '$lib/server/doors/http';
import { scenarioForms } from '$lib/server/scenarios/plan-data';
import { ACTUALS, visibleScenarios } from '$lib/server/scenarios/scenarios';
import { defaultScenario, selectionFrom } from '$lib/server/scenarios/selection';
import { currencyUnder } from '$lib/core/company/structure';
import { readableRoots } from '$lib/server/platform/auth/policy';
import { companyState } from '$lib/server/company/structure';
import { preferencesOf } from '$lib/server/platform/preferences';
import { isDemo, today } from '$lib/server/platform/settings';
import { listSchedules } from '$lib/server/schedules/schedules';
import type { Figures } from '$lib/ui/writing/format';
import type { FrameData } from '$lib/ui/shell/company';

export const load = ({ locals, url, cookies }) =>
	page({ locals }, async (context): Promise<FrameData> => {
		const { company, closedThrough, structure } = await companyState(context.db);
		const selection = await selectionFrom(context, url);
		const tree = structure.departments;
		const roots = readableRoots(context.user, tree);
		const may = actionsOf(context.user, tree);
		const scenarios = await visibleScenarios(context);
		// Actuals have no driver models; the plan to begin with lends its own.
		const modelled =
			selection.scenario === ACTUALS ? (defaultScenario(scenarios)?.code ?? '') : selection.scenario;
		const { models: own } = await scenarioForms(context.db, modelled || ACTUALS);
		const models = may['see driver models'] ? own : [];
		const schedules = modelled ? await listSchedules(context, modelled) : [];
		const depthOf = (code: string, root: string) => tree.depth(code) - tree.depth(root);
		return {
			company,
			money: structure.money,
			closedThrough,
			user: { email: context.user.email, name: context.user.name, role: context.user.role },
			passwords: !isDemo(),
			stages: await stagesFor(context, tree),
			scenarios: scenarios.map(
				({ code, name, kind, folder, locked, first, last, actualsThrough, laterYears }) => ({
					code,
					name,
					kind,
					folder,
					locked,
					first,
					last,
					actualsThrough,
					laterYears: laterYears ?? null
				})
			),
			departments: roots.flatMap((root) =>
				tree.subtree(root.code).map((d) => ({
					code: d.code,
					name: d.name,
					depth: depthOf(d.code, root.code),
					leaf: tree.isLeaf(d.code),
					currency: currencyUnder(structure, d.code)
				}))
			),
			selection,
			may,
			figures: (cookies.get('figures') as Figures | undefined) ?? 'whole',
			style: await preferencesOf(context),
			theme: cookies.get('theme') ?? 'light',
			accounts: structure.accounts.all.map(({ code, name }) => ({ code, name })),
			models: models.map(({ definition: { code, name, calendar: own } }) => ({
				code,
				name,
				calendar: own ?? null
			})),
			schedules: schedules.map(({ code, name }) => ({ code, name })),
			today: today()
		};
	});
