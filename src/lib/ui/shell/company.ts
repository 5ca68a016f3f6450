/** What every page knows of the company, from the frame's data. */
import { getContext, setContext } from 'svelte';
import type { Calendar } from '../../core/calendar/calendar';
import { calendarOf } from '../../core/calendar/calendar-of';
import type { Company } from '../../core/company/schema';
import type { CalendarSpec, LaterYears } from '../../core/calendar/spec';
import { scenarioCalendar } from '../../core/scenario/calendar';
import type { MoneyUnits } from '../../core/formula/units';
import type { MoneyView } from '../../core/currency/view';
import type { Figures } from '../writing/format';
import type { UserStyle } from '../writing/user-style.svelte';

export interface Stage {
	href: string;
	name: string;
	note: string;
}
export interface FrameData {
	company: Company;
	/** What amounts are counted in, as units of formulas. */
	money: MoneyUnits;
	closedThrough: number | null;
	user: { email: string; name: string; role: string };
	/** People sign in with passwords; in the demo they do not. */
	passwords: boolean;
	stages: Stage[];
	scenarios: {
		code: string;
		name: string;
		kind: string;
		folder: string;
		locked: boolean;
		first: number;
		last: number;
		actualsThrough: number | null;
		laterYears: LaterYears | null;
	}[];
	/** Departments the user may open, parents first. */
	departments: {
		code: string;
		name: string;
		depth: number;
		leaf: boolean;
		/** In which it plans; null where departments under it plan in several. */
		currency: string | null;
	}[];
	selection: { scenario: string; department: string; from: number; to: number; money: MoneyView };
	may: Record<string, boolean>;
	figures: Figures;
	theme: string;
	style: UserStyle;
	accounts: { code: string; name: string }[];
	/** `calendar` is null for a model in the company’s periods. */
	models: { code: string; name: string; calendar: CalendarSpec | null }[];
	/** Those whose rows the user may see. */
	schedules: { code: string; name: string }[];
	today: string;
}

const ACTUALS = 'actuals';
const KEY = Symbol('company');
export interface CompanyContext {
	readonly data: FrameData;
	readonly calendar: Calendar;
	/** In whose periods a block’s figures stand, in the scenario selected or another. */
	calendarOf(block: string, scenario?: string): Calendar;
}
export function provideCompany(data: () => FrameData): CompanyContext {
	const calendar = calendarOf(data().company.calendar);
	const context: CompanyContext = {
		get data() {
			return data();
		},
		calendar,
		calendarOf(block, scenario = data().selection.scenario) {
			const own = data().models.find((m) => m.code === block)?.calendar;
			if (own) return calendarOf(own);
			const found = data().scenarios.find((s) => s.code === scenario);
			return found ? scenarioCalendar(calendar, found) : calendar;
		}
	};
	setContext(KEY, context);
	return context;
}
export const useCompany = (): CompanyContext => getContext(KEY);

/** The address of a page with the selection, and what is changed in it. */
export function withSelection(
	path: string,
	selection: FrameData['selection'],
	calendar: Calendar,
	change: Partial<FrameData['selection']> = {},
	more: Record<string, string> = {}
): string {
	const s = { ...selection, ...change };
	const parameters = new URLSearchParams({
		department: s.department,
		from: calendar.key(s.from),
		to: calendar.key(s.to),
		...more
	});
	// What is shown in the reporting currency stays so, wherever one goes from there.
	if (s.money === 'reporting') parameters.set('money', s.money);
	// Compare begins with actuals, and actuals lead nowhere else: each side keeps its own default then.
	const keeps = path.startsWith('/compare') ? change.scenario !== undefined : s.scenario !== ACTUALS;
	if (keeps) parameters.set('scenario', s.scenario);
	return `${path}?${parameters}`;
}

/** Keeps a choice of the person's for a year. */
export function remember(name: string, value: string) {
	document.cookie = `${name}=${value}; path=/; max-age=31536000; samesite=lax`;
}
