/** The way from a figure to where it comes from, and back again. */
import { goto } from '$app/navigation';
import { page } from '$app/state';
import { spanOnto } from '../../core/calendar/onto';
import type { FigureView } from '../../core/explain/figure';
import type { FigureRef, Trace } from '../../core/explain/trace';
import { sharesCode } from '../../core/blocks/schedule/schema';
import { ApiError } from '../kit/api';
import { withSelection, type CompanyContext } from '../shell/company';
import { notices } from '../kit/notices.svelte';
import { calendarFor, openedFigure } from './written';
import { sheet } from './sheet.svelte';

/** The cell to which an address leads: a row of its grid, and a month. */
export interface Landing {
	row: string;
	month: string;
}
const AT = 'at';
const MONTH = 'month';
/** Parameters of an address that lead to a cell and change nothing of what is shown. */
export const LANDING = [AT, MONTH];

export function landingIn(url: URL): Landing | null {
	const row = url.searchParams.get(AT);
	return row === null ? null : { row, month: url.searchParams.get(MONTH) ?? '' };
}
function withLanding(url: URL, { row, month }: Landing): URL {
	const to = new URL(url);
	to.searchParams.set(AT, row);
	to.searchParams.set(MONTH, month);
	return to;
}

/** Where schedules have their pages. */
export const SCHEDULES = '/plan/schedules';

/** On which page a figure stands. */
const placeOf = (ref: FigureRef) =>
	ref.kind === 'line' ? `model ${ref.model.replace(new RegExp(`${sharesCode('')}$`), '')}` : 'plan';

/** What a figure is made of on other pages. */
export function sourcesOf({ ref, explanations }: Pick<Trace, 'ref' | 'explanations'>): FigureRef[] {
	const refs = explanations.flatMap((e): (FigureRef | null)[] =>
		e.kind === 'posted' ? e.parts.map((p) => p.ref) : 'operands' in e ? e.operands.map((o) => o.ref) : []
	);
	return refs.filter((r): r is FigureRef => r !== null && placeOf(r) !== placeOf(ref));
}

/** The address of the page on which a figure stands, leading to its cell. */
export function addressOf(ref: FigureRef, scenario: string, company: CompanyContext): string {
	const { data, calendar } = company;
	const own = calendarFor(company, ref, scenario);
	const [first, last] = ref.kind === 'line' ? [ref.period, ref.period] : [ref.from, ref.to];
	const there = spanOnto(calendar, own, { from: first, to: last });
	const { selection } = data;
	const change = {
		scenario,
		from: Math.min(selection.from, there.from),
		to: Math.max(selection.to, there.to)
	};
	const month = { [MONTH]: own.key(first) };
	if (ref.kind === 'account')
		return withSelection(
			'/plan',
			selection,
			calendar,
			{ ...change, department: ref.department },
			{
				[AT]: ref.account,
				...month
			}
		);
	const schedule = data.schedules.find(({ code }) => [code, sharesCode(code)].includes(ref.model));
	if (schedule)
		return withSelection(`${SCHEDULES}/${schedule.code}`, selection, calendar, change, {
			line: ref.line,
			[AT]: ref.row.split('|')[0],
			...month
		});
	const row: Record<string, string> = ref.row
		? { open: ref.line, [AT]: `${ref.line}@${ref.row}` }
		: { [AT]: ref.line };
	return withSelection(`/drivers/${ref.model}`, selection, calendar, change, { ...row, ...month });
}

interface Step {
	back: string;
	/** The figure that was left, for people. */
	name: string;
	/** The page it led to. */
	to: string;
}

class Trail {
	#steps: Step[] = $state([]);
	/** Where one came from; nothing when other ways were taken meanwhile. */
	get last(): Step | undefined {
		return this.#steps.at(-1);
	}

	/**
	 * Leads from a cell to where its figure comes from, when that is one other page; else the side sheet says what it
	 * is made of.
	 */
	async follow(company: CompanyContext, scenario: string, ref: FigureRef, from: Landing): Promise<void> {
		let view: FigureView;
		try {
			view = await openedFigure(company, scenario, ref);
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'This figure cannot be followed.', true);
			return;
		}
		const sources = sourcesOf(view.trace);
		if (new Set(sources.map(placeOf)).size !== 1) {
			sheet.open({ scenario, ref });
			if (!sources.length)
				notices.say('This figure comes from no other page; beside it stands what it is made of.');
			return;
		}
		await this.go(company, scenario, sources[0], `${view.title}, ${view.place}`, from);
	}

	/** Leads to the page of a figure; the way back begins where one is. */
	async go(
		company: CompanyContext,
		scenario: string,
		to: FigureRef,
		name: string,
		from: Landing | null
	): Promise<void> {
		const address = addressOf(to, scenario, company);
		const back = from ? withLanding(page.url, from) : page.url;
		const steps = [...this.#steps, { back: back.pathname + back.search, name, to: address.split('?')[0] }];
		await goto(address);
		// Whoever would lose what is not saved may have stayed.
		if (page.url.pathname === address.split('?')[0]) this.#steps = steps;
	}
	async back(): Promise<void> {
		const { last } = this;
		if (!last) return;
		const steps = this.#steps;
		this.#steps = steps.slice(0, -1);
		await goto(last.back);
		// Whoever would lose what is not saved may have stayed.
		if (page.url.pathname === last.to && !last.back.startsWith(`${last.to}?`)) this.#steps = steps;
	}
	/** A page was opened: the way back goes on from where it led to, and from nowhere else. */
	arrived(pathname: string): void {
		if (this.last && this.last.to !== pathname) this.#steps = [];
	}
}
export const trail = new Trail();
