import { page } from '$lib/server/doors/http';
import { LAST_YEAR, varianceReport, type Span } from '$lib/server/reports/variance';
import { getScenario, visibleScenarios } from '$lib/server/scenarios/scenarios';
import { selectionFrom } from '$lib/server/scenarios/selection';
import { companyState } from '$lib/server/company/structure';

const positive = (text: string | null, otherwise: number) => {
	const n = Number(text ?? NaN);
	return Number.isFinite(n) && n >= 0 ? n : otherwise;
};

export const load = ({ locals, url }) =>
	page({ locals }, async (context) => {
		const { calendar, closedThrough, actuals } = await companyState(context.db);
		const s = await selectionFrom(context, url);
		const scenarios = await visibleScenarios(context);
		if (!scenarios.length) return { report: null };
		const chosen = s.scenario;
		const scenario = await getScenario(context.db, chosen);
		// Without a choice, the last loaded month stands against the budget.
		const last = actuals.last >= 0 ? actuals.last : (closedThrough ?? s.from);
		const wanted =
			calendar.parse(url.searchParams.get('period') ?? '') ?? Math.min(Math.max(last, s.from), s.to);
		const period = Math.min(wanted, scenario.last);
		const budget = scenarios.find(
			(x) => x.kind === 'budget' && x.code !== chosen && x.first <= period && x.last >= period
		);
		const against = url.searchParams.get('against') ?? budget?.code ?? LAST_YEAR;
		const known = against === LAST_YEAR || scenarios.some((x) => x.code === against);
		const span = url.searchParams.get('span');
		return {
			report: await varianceReport(context, {
				scenario: chosen,
				against: known ? against : LAST_YEAR,
				department: s.department,
				period,
				span: (span === 'ytd' || span === 'year' ? span : 'month') as Span,
				leap: url.searchParams.get('leap') === 'without' ? 'without' : 'with',
				money: s.money,
				threshold: {
					amount: positive(url.searchParams.get('amount'), 5000),
					percent: positive(url.searchParams.get('percent'), 0.05)
				}
			})
		};
	});
