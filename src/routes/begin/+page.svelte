<script lang="ts">
	import { untrack } from 'svelte';
	import { calendarOf } from '$lib/core/calendar/calendar-of';
	import { longDate } from '$lib/core/calendar/says';
	import type { CalendarSpec } from '$lib/core/calendar/spec';
	import { readOutline } from '$lib/core/company/outline';
	import CalendarFields from '$lib/ui/founding/CalendarFields.svelte';
	import FileDrop from '$lib/ui/kit/form/FileDrop.svelte';
	import OtherEntities, { type OtherEntity } from '$lib/ui/founding/OtherEntities.svelte';
	import LastYear from '$lib/ui/founding/LastYear.svelte';
	import TreeList from '$lib/ui/founding/TreeList.svelte';
	import { ApiError, post, send, type Fault } from '$lib/ui/kit/api';
	import Faults from '$lib/ui/kit/Faults.svelte';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import Input from '$lib/ui/kit/form/Input.svelte';
	import Label from '$lib/ui/kit/form/Label.svelte';
	import Radio from '$lib/ui/kit/form/Radio.svelte';
	import Select from '$lib/ui/kit/form/Select.svelte';
	import Textarea from '$lib/ui/kit/form/Textarea.svelte';
	import { counted } from '$lib/ui/writing/count';

	const EXAMPLE = 'Sales\n  Dealers\n  Web\nWorkshop\nFinance';
	let { data } = $props();

	/** From a few answers, or from a folder that was saved elsewhere. */
	let way = $state<'answers' | 'folder'>('answers');
	let archive = $state.raw<File | null>(null);
	let person = $state({ name: '', email: '', password: '' });
	let company = $state({ name: '', currency: '' });
	let spec = $state<CalendarSpec>({ kind: 'months', fiscalStart: 1, dayCount: 'actual' });
	let code = $state(untrack(() => data.charts[0].code));
	let names = $state('');
	let entities = $state<OtherEntity[]>([]);
	let problem = $state<{ message: string; faults: Fault[] } | null>(null);
	let busy = $state(false);
	/** Of a folder that has been loaded: what an earlier version did not write, and what is taken for it. */
	interface Assumed {
		file: string;
		column: string;
		means: string;
	}
	let taken = $state.raw<Assumed[] | null>(null);

	const calendar = $derived(calendarOf(spec));
	/** The year in which today lies; the next one is what people plan first. */
	const present = $derived(calendar.periodOf(data.today)!);
	const running = $derived(calendar.fiscalYear(present));
	let history = $state.raw<object | null>(null);
	let unread = $state('');
	/** Who brings last year begins with the year after it. */
	let chosenAhead = $state<number | null>(null);
	const ahead = $derived(chosenAhead ?? (history ? 0 : 1));
	const year = $derived(running + ahead);
	let begins = $state<'last-year' | 'empty'>('last-year');
	const years = $derived(
		[0, 1].map((value) => ({
			value,
			name: `${calendar.yearLabel(running + value)}, from ${longDate(calendar.firstDay(calendar.yearStart(running + value)))}`
		}))
	);
	const chart = $derived(data.charts.find((c) => c.code === code)!);
	const outline = $derived(readOutline(names, 'department'));
	const kinds: Record<string, string> = { statistical: 'number', rate: 'rate' };
	const groups = $derived(new Set(outline.items.map((d) => d.parent)));
	const leaves = $derived(outline.items.filter((d) => !groups.has(d.code)));
	const root = $derived({ code: '', name: company.name.trim() || 'The company', parent: null });
	const departments = $derived([root, ...outline.items.map((d) => ({ ...d, parent: d.parent ?? '' }))]);

	/** Where a mistake is, as the form calls it. */
	const PLACES: Record<string, string> = {
		'person.name': 'your name',
		'person.email': 'e-mail',
		'person.password': 'password',
		'company.name': 'company',
		'company.currency': 'currency',
		year: 'first budget',
		through: 'last year, up to',
		department: 'last year, department',
		entities: 'other legal entities'
	};
	/** What a refusal says, in the form's words. */
	function refused(e: unknown) {
		if (!(e instanceof ApiError)) throw e;
		const faults = e.faults.map((f) => ({
			...f,
			column: f.column && (PLACES[f.column] ?? f.column),
			message: f.file && way === 'folder' ? `${f.file}: ${f.message}` : f.message
		}));
		problem = { message: faults.length ? 'Nothing is set up yet; mend this first.' : e.message, faults };
		busy = false;
	}
	async function fromFolder() {
		if (!archive) {
			problem = { message: 'Choose the zip of the company folder first.', faults: [] };
			return;
		}
		busy = true;
		problem = null;
		try {
			const { assumed } = await send<{ assumed: Assumed[] }>(
				`founding/folder?key=${encodeURIComponent(data.key)}`,
				archive,
				{ person }
			);
			if (assumed.length) taken = assumed;
			else location.assign('/');
		} catch (e) {
			refused(e);
		}
	}
	async function begin(event: SubmitEvent) {
		event.preventDefault();
		if (busy) return;
		if (way === 'folder') return fromFolder();
		if (unread) {
			problem = { message: `Nothing is set up yet; mend ${unread} first, or leave them out.`, faults: [] };
			return;
		}
		busy = true;
		problem = null;
		try {
			const { department } = await post<{ department: string }>('founding', {
				key: data.key,
				person,
				company: { ...company, calendar: spec },
				chart: code,
				departments: names,
				entities: entities.map(({ name, currency, department, rate }) => ({
					name,
					currency,
					department: Number(department),
					rate: rate.trim() ? Number(rate.trim().replace(',', '.')) : null
				})),
				year,
				history,
				begins: history ? begins : 'empty'
			});
			// From here on somebody is signed in: the application begins anew.
			location.assign(`/plan?department=${encodeURIComponent(department)}`);
		} catch (e) {
			refused(e);
		}
	}
</script>

<svelte:head><title>Set up · Yardstave</title></svelte:head>

<div class="page">
	<main>
		{#if taken}
			<h1>The company is set up</h1>
			<p role="status">
				Its folder was written by an earlier version, which did not know everything; this was assumed instead.
			</p>
			<ul>
				{#each taken as { file, column, means } (`${file} ${column}`)}
					<li>{means} <span class="muted">({file} has no “{column}”)</span></li>
				{/each}
			</ul>
			<div class="end"><Button size="md" onclick={() => location.assign('/')}>Go on</Button></div>
		{:else}
			<h1>A company of your own</h1>
			<p class="muted">
				Who you are, what the company is called and its currency is all that is needed; the rest has something
				to begin with. At the end stands a first budget that you can type in. Look at currency and year twice:
				figures are kept in them.
			</p>
			<form onsubmit={begin}>
				<section aria-labelledby="you">
					<h2 id="you">You</h2>
					<div class="two">
						<div>
							<Label for="name">Your name</Label>
							<Input id="name" autocomplete="name" required maxlength={120} bind:value={person.name} />
						</div>
						<div>
							<Label for="email">E-mail, to sign in with</Label>
							<Input
								id="email"
								type="email"
								autocomplete="username"
								required
								maxlength={254}
								bind:value={person.email}
							/>
						</div>
						<div>
							<Label for="password">Password, at least 10 characters</Label>
							<Input
								id="password"
								type="password"
								autocomplete="new-password"
								required
								minlength={10}
								maxlength={1024}
								bind:value={person.password}
							/>
						</div>
					</div>
				</section>
				<section aria-labelledby="way-title">
					<h2 id="way-title">Begin with</h2>
					<div class="ways" role="radiogroup" aria-labelledby="way-title">
						<Radio name="way" value="answers" bind:group={way}>a few answers</Radio>
						<Radio name="way" value="folder" bind:group={way}
							>a company folder that was saved elsewhere, as a zip</Radio
						>
					</div>
					{#if way === 'folder'}
						<FileDrop
							id="archive"
							label="Company folder"
							accept=".zip"
							chosen={archive?.name}
							onfile={(file) => (archive = file ?? null)}>Choose the zip</FileDrop
						>
						<p class="muted">
							You are its analyst with your e-mail above, or another one beside them; the others are invited
							under Set up, People.
						</p>
					{/if}
				</section>
				{#if way === 'answers'}
					<section aria-labelledby="company-title">
						<h2 id="company-title">The company</h2>
						<div class="two">
							<div>
								<Label for="company">Its name</Label>
								<Input
									id="company"
									autocomplete="organization"
									required
									maxlength={120}
									bind:value={company.name}
								/>
							</div>
							<div>
								<Label for="currency">Currency it reports in, such as GBP</Label>
								<Input
									id="currency"
									list="currencies"
									required
									maxlength={3}
									autocomplete="off"
									bind:value={company.currency}
								/>
								<datalist id="currencies">
									{#each data.currencies as currency (currency)}<option value={currency}></option>{/each}
								</datalist>
							</div>
						</div>
						<CalendarFields bind:spec {year} />
					</section>
					<section aria-labelledby="accounts-title">
						<h2 id="accounts-title">Accounts to begin with</h2>
						<div class="beside">
							<div class="ways">
								{#each data.charts as c (c.code)}
									<Radio name="chart" value={c.code} bind:group={code}>
										<span><b>{c.name}</b><small>{c.says}</small></span>
									</Radio>
								{/each}
							</div>
							<div>
								<TreeList
									label="Accounts of “{chart.name}”"
									items={chart.accounts}
									note={(a, leaf) => (leaf ? (kinds[a.type] ?? a.code) : '')}
								/>
								<p class="muted">{counted(chart.accounts.length, 'account')}, statistics among them.</p>
							</div>
						</div>
					</section>
					<section aria-labelledby="departments-title">
						<h2 id="departments-title">Departments</h2>
						<div class="beside">
							<div>
								<Label for="departments">One a line; indent what lies under another</Label>
								<Textarea id="departments" rows={9} bind:value={names} placeholder={EXAMPLE} />
								<p class="muted">
									A list can be pasted from a spreadsheet. Without one the company is one department.
								</p>
							</div>
							<div>
								<TreeList label="Departments as they will stand" items={departments} />
								{#each outline.faults as fault (fault.line)}
									<p class="fault" role="status">Line {fault.line}: {fault.message}.</p>
								{/each}
							</div>
						</div>
						<OtherEntities
							bind:entities
							departments={outline.items}
							reporting={company.currency.trim().toUpperCase()}
						/>
					</section>
					<section aria-labelledby="last-title">
						<h2 id="last-title">Last year, if you have it at hand</h2>
						<p class="muted">
							A trial balance, or ledger entries with their dates. It can be loaded later as well, under Set
							up.
						</p>
						<LastYear
							opens={data.key}
							{calendar}
							{running}
							{present}
							chart={code}
							departments={names}
							{leaves}
							bind:history
							bind:wrong={unread}
							onpast={() => document.getElementById('year')?.focus()}
						/>
					</section>
					<section aria-labelledby="budget-title">
						<h2 id="budget-title">First budget</h2>
						<div class="two">
							<div>
								<Label for="year">Of the year</Label>
								<Select
									placeholder=""
									id="year"
									items={years}
									bind:value={() => ahead, (value) => (chosenAhead = value ?? null)}
								/>
							</div>
							{#if history}
								<div class="ways" role="radiogroup" aria-label="It begins">
									<Radio name="begins" value="last-year" bind:group={begins}
										>as the year before, {calendar.words.one} by {calendar.words.one}, to be typed over</Radio
									>
									<Radio name="begins" value="empty" bind:group={begins}>empty</Radio>
								</div>
							{/if}
						</div>
					</section>
				{/if}
				{#if problem}<Faults message={problem.message} faults={problem.faults} />{/if}
				<div class="end">
					<Button type="submit" size="md" disabled={busy}
						>{busy ? 'Setting up …' : way === 'folder' ? 'Set up' : 'Set up and plan'}</Button
					>
					{#if way === 'answers'}<span class="muted"
							>Then: {calendar.yearLabel(year)} Budget, ready to type in.</span
						>{/if}
				</div>
			</form>
		{/if}
	</main>
</div>

<style>
	.page {
		/* What is placed out of sight stays within: elsewhere, taking the focus would move the whole page. */
		position: relative;
		height: 100vh;
		overflow: auto;
	}
	main {
		width: 900px;
		max-width: calc(100vw - 48px);
		margin: 0 auto;
		padding: 32px 0 48px;
		display: grid;
		gap: 10px;
	}
	h1 {
		font-size: 26px;
	}
	form {
		display: grid;
		gap: 14px;
	}
	section {
		background: var(--sheet);
		border: 1px solid var(--rule);
		border-radius: 8px;
		padding: 16px 20px;
		display: grid;
		gap: 10px;
	}
	h2 {
		font-size: 16px;
	}
	.two,
	.beside {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 10px 20px;
	}
	.ways {
		display: grid;
		align-content: start;
		gap: 12px;
	}
	.ways small {
		display: block;
		color: var(--ink-2);
	}
	.beside p {
		margin-top: 6px;
		font-size: 13px;
	}
	.fault {
		color: var(--clay);
	}
	.end {
		display: flex;
		align-items: center;
		gap: 16px;
	}
</style>
