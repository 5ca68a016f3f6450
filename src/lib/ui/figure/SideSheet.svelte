<script lang="ts">
	import { counted } from '../writing/count';
	import type { Basis } from '../../core/inputs/basis';
	import type { NumberFormat } from '../../core/company/schema';
	import type { FigureView } from '../../core/explain/figure';
	import type { Explanation, FigureRef, Operand, Part } from '../../core/explain/trace';
	import { ApiError } from '../kit/api';
	import CellNotes from './CellNotes.svelte';
	import { useCompany } from '../shell/company';
	import { day, exact, moment } from '../writing/format';
	import { trail } from './trail.svelte';
	import { calendarFor, openedFigure } from './written';
	import { sheet, type Opened } from './sheet.svelte';
	import TextButton from '../kit/form/TextButton.svelte';
	import Tabs from '../kit/Tabs.svelte';
	import { tabPanel } from '../kit/tab-panel';
	import IconButton from '../kit/form/IconButton.svelte';

	const company = useCompany();
	/** In whose periods the open figure is named. */
	const calendar = $derived(
		sheet.current ? calendarFor(company, sheet.current.ref, sheet.current.scenario) : company.calendar
	);
	let view = $state<FigureView | null>(null);
	let problem = $state('');
	let tab: 'trace' | 'notes' | 'history' = $state('trace');
	let noteCount = $state(0);

	$effect(() => {
		const opened = sheet.current;
		if (opened) void load(opened);
	});

	async function load(opened: Opened) {
		problem = '';
		if (opened.tab) tab = opened.tab;
		try {
			const answer = await openedFigure(company, opened.scenario, opened.ref);
			if (sheet.current === opened) view = answer;
		} catch (e) {
			problem = e instanceof ApiError ? e.message : 'This figure cannot be opened.';
			view = null;
		}
	}

	const HEADINGS: Record<string, string> = $derived({
		accounts: 'Accounts in it',
		departments: 'Departments in it',
		periods: `${calendar.words.One} by ${calendar.words.one}`,
		posted: 'What is posted here'
	});
	/** What figures of other periods are to this one. */
	const BY_DAYS = {
		sum: 'Each counts by its days in this',
		average: 'A mean, weighted by days',
		last: 'As it stands on the last day of this'
	};
	const shareWords = ({ share }: Part) =>
		share && share.days < share.of ? `${share.days} of its ${share.of} days` : '';
	/** What errors mean that say nothing of formulas. */
	const REASONS: Record<string, string> = $derived({
		'#MIXED!': `It is made of amounts in several currencies, which have no sum but in ${company.data.company.currency}: choose that above.`,
		'#RATE!': 'An exchange rate is missing for it, or for a part of it: open the part that shows the same.'
	});
	const exchangeWords = ({ exchanged }: Part) =>
		exchanged
			? `${exact(exchanged.amount, 'money')} ${exchanged.from} at ${exchanged.rate === null ? 'a rate that is missing' : exact(exchanged.rate, 'price')}`
			: '';
	const accountName = (code: string) => company.data.accounts.find((a) => a.code === code)?.name ?? code;
	function basisWords(basis: Basis): string {
		const percent = (p: number) => `${p < 0 ? '−' : '+'}${Number(Math.abs(p * 100).toPrecision(6))} %`;
		switch (basis.kind) {
			case 'typed':
				return `typed ${calendar.words.one} by ${calendar.words.one}`;
			case 'last-year':
				return `the same ${calendar.words.one} last year ${percent(basis.percent)}`;
			case 'percent-of':
				return `${Number((basis.percent * 100).toPrecision(6))} % of ${accountName(basis.account)}`;
			case 'run-rate':
				return `the average of the last ${basis.months} closed ${calendar.words.many}`;
			case 'driver':
				return `a driver × ${Number(basis.rate.toPrecision(10))}`;
		}
	}
	const parts = (e: Explanation): Part[] => ('parts' in e ? e.parts : []);
	/** Rows that post nothing here are counted, not listed. */
	const silent = (e: Explanation, p: Part) => e.kind === 'posted' && (p.value === 0 || p.value === null);
	const listed = (e: Explanation): Part[] => parts(e).filter((p) => !silent(e, p));
	const isHere = (o: Operand) => view?.trace.ref.kind === 'line' && o.period === view.trace.ref.period;
	/** Notes and items hang on cells. */
	const cell = $derived(view?.trace.cell ?? null);
	const named = (name: string, n: number) => (n ? `${name} (${n})` : name);
	const tabs = $derived([
		{ key: 'trace' as const, name: 'Trace' },
		...(cell
			? [{ key: 'notes' as const, name: named(view?.column ? 'Notes' : 'Notes and items', noteCount) }]
			: []),
		{ key: 'history' as const, name: named('History', view?.history.length ?? 0) }
	]);
	/** What was typed in the cell; null where its figure comes from elsewhere. */
	const typed = $derived.by(() => {
		const kind = view?.trace.explanations[0]?.kind;
		const value = view?.trace.value;
		return (kind === 'typed' || kind === 'input') && typeof value === 'number' ? value : null;
	});
	/** From the figure that was opened first to the one that is open, on its own page. */
	async function go(ref: FigureRef, scenario: string) {
		const from = await openedFigure(company, scenario, sheet.stack[0].ref);
		await trail.go(company, scenario, ref, `${from.title}, ${from.place}`, null);
	}
	/** What stands in a column: days as people write them, amounts in full. */
	function wordsOf(text: string, { format }: { format: NumberFormat }): string {
		if (/^\d{4}-\d{2}-\d{2}$/.test(text)) return day(text);
		const value = text === '' ? NaN : Number(text);
		return Number.isNaN(value) ? text : exact(value, format);
	}
	const isMonth = (ref: FigureRef) => ref.kind === 'line' || ref.from === ref.to;
</script>

{#snippet row(
	name: string,
	value: import('../../core/engine/values').Cell,
	format: NumberFormat,
	ref: FigureRef | null,
	sign: number,
	note = ''
)}
	<li>
		{#if ref}
			<button onclick={() => sheet.into(ref)}
				><span
					>{sign < 0 ? '− ' : ''}{name}{#if note}<small>{note}</small>{/if}</span
				><b>{exact(value, format)}</b></button
			>
		{:else}
			<span class="still"
				><span
					>{sign < 0 ? '− ' : ''}{name}{#if note}<small>{note}</small>{/if}</span
				><b>{exact(value, format)}</b></span
			>
		{/if}
	</li>
{/snippet}

{#snippet operands(list: readonly Operand[], always: boolean)}
	<ul>
		{#each list as o (o.name + o.period)}{@render row(
				o.name,
				o.value,
				o.format,
				o.ref,
				1,
				!always && isHere(o) ? '' : calendar.label(o.period)
			)}{/each}
	</ul>
{/snippet}

{#snippet lastTyped(change: { name: string; at: string } | undefined)}
	<p class="muted">
		{change ? `Last by ${change.name}, ${moment(change.at)}.` : 'It was there when the company was loaded.'}
	</p>
{/snippet}

{#if sheet.current}
	<aside aria-label="What this figure is made of">
		<div class="top">
			{#if sheet.stack.length > 1}<TextButton onclick={() => sheet.back()}>← Back</TextButton>{/if}
			<IconButton class="ml-auto" label="Close the side sheet" onclick={() => sheet.close()}>✕</IconButton>
		</div>
		{#if problem}
			<p class="problem" role="alert">{problem}</p>
		{:else if view}
			{@const t = view.trace}
			<h2>{view.title}</h2>
			<p class="muted">{view.place}</p>
			<p class="muted">{view.scenarioName}</p>
			<p class="big">
				{#if view.column}{wordsOf(view.column.text, t) || 'blank'}{:else}{exact(t.value, t.format)}{/if}
			</p>
			{#if REASONS[String(t.value)]}<p class="problem">{REASONS[String(t.value)]}</p>{/if}
			{#if sheet.stack.length > 1}
				{@const scenario = sheet.current.scenario}
				<p>
					<TextButton onclick={() => go(t.ref, scenario)}
						>Go to it{t.ref.kind === 'line' ? ' in its driver model' : ' in the plan'}</TextButton
					>
				</p>
			{/if}
			<div class="tabs">
				<Tabs label="What is known of it" panel="known" {tabs} chosen={tab} onchoose={(key) => (tab = key)} />
			</div>
			<div {...tabPanel('known', tab)}>
				{#if tab === 'trace'}
					{#each t.explanations as e, i (i)}
						{#if e.kind === 'actual' && view.ledger}
							{@const odd = view.ledger.lines.filter((l) => l.unusual)}
							<section>
								{#if odd.length}<p class="alarm">
										{counted(odd.length, 'entry', 'entries')} far from the usual size
									</p>{/if}
								<h3>
									Ledger entries <small
										>{view.ledger.count}, {view.ledger.total === null
											? 'in several currencies'
											: `together ${exact(view.ledger.total, 'money')}`}</small
									>
								</h3>
								<ul class="ledger">
									{#each view.ledger.lines as l (l.document + l.ledgerAccount + l.amount + l.date)}
										<li class:odd={l.unusual}>
											<span class="when">{day(l.date).slice(0, -5)}</span>
											<span class="what">{l.party || l.description}</span>
											<b>{view.ledger.total === null ? `${l.currency} ` : ''}{exact(l.amount, 'money')}</b>
											<span class="about">
												<small>{l.description} · document {l.document} · {l.department}</small>
												<small>{l.ledgerAccount} {l.ledgerName}</small>
												{#if l.unusual && l.usual}<small
														>usual up to {exact(Math.round(l.usual.high), 'number')}</small
													>{/if}
											</span>
										</li>
									{/each}
								</ul>
								{#if view.ledger.count > view.ledger.lines.length}<p class="muted">
										The largest {view.ledger.lines.length} are shown.
									</p>{/if}
							</section>
						{:else if e.kind === 'typed'}
							<section>
								<h3>Typed</h3>
								{#if e.basis}
									<p>
										Typed over its basis, {basisWords(e.basis)}, which gives
										<b>{exact(e.basisValue, 'money')}</b>.
									</p>
								{:else}<p>Typed for this {calendar.words.one}.</p>{/if}
								{@render lastTyped(view.history[0])}
							</section>
						{:else if e.kind === 'basis'}
							<section>
								<h3>Basis</h3>
								<p>This is {basisWords(e.basis)}.</p>
								{@render operands(e.operands, true)}
							</section>
						{:else if e.kind === 'formula'}
							<section>
								<h3>{e.scope ? `Formula for ${e.scope}` : 'Formula'}</h3>
								<code>{e.formula}</code>
								<h3>with</h3>
								{@render operands(e.operands, false)}
							</section>
						{:else if e.kind === 'input'}
							<section>
								<h3>{view.column ? 'Typed in this row' : 'Typed in'}</h3>
								{@render lastTyped(view.history[0])}
							</section>
						{:else if e.kind === 'derived'}
							<section>
								<h3>From the ledger</h3>
								<p>
									The sum of entries on the account that this row posts to, as far as they are tagged with its
									members.
								</p>
							</section>
						{:else if e.kind === 'followed'}
							<section>
								<p>
									This {calendar.words.one} comes from {view.followedName ?? 'actuals'}, which this scenario
									follows.
								</p>
							</section>
						{:else if e.kind === 'nothing'}
							<section><p>Nothing has been entered here.</p></section>
						{:else if e.kind === 'translated'}
							<section>
								<h3>Translated from {e.from}</h3>
								{#if !e.rate}
									<p>
										Equity stands as it arose: each change at the average rate of its {calendar.words.one}.
									</p>
								{:else if e.rate.value === null}
									<p class="problem">
										The {e.rate.kind} rate of {e.from} is missing here. Rates are set under Set up, Currencies.
									</p>
								{:else}
									<p>
										At the {e.rate.kind} rate, {exact(e.rate.value, 'price')}
										{company.data.company.currency} for 1 {e.from}.
									</p>
								{/if}
								<ul>
									{#each e.parts as p, i (i)}{@render row(p.name, p.value, p.format, p.ref, 1, '')}{/each}
								</ul>
							</section>
						{:else if 'parts' in e && parts(e).length}
							<section>
								<h3>
									{e.kind === 'days' ? `${BY_DAYS[e.how]} ${calendar.words.one}` : HEADINGS[e.kind]}
								</h3>
								<ul>
									{#each listed(e) as p, i (i)}{@render row(
											p.name,
											p.value,
											p.format,
											p.ref,
											p.sign,
											e.kind === 'days' && e.how !== 'last' ? shareWords(p) : exchangeWords(p)
										)}{/each}
								</ul>
								{#if listed(e).length < parts(e).length}
									<p class="muted">
										{listed(e).length ? 'Besides, ' : ''}{parts(e).length - listed(e).length} at 0.
									</p>
								{/if}
							</section>
						{/if}
					{/each}
				{:else if tab === 'history' || !cell}
					<section>
						{#each view.history as h (h.at + h.after)}
							<div class="change">
								<p><b>{h.name}</b> <span class="muted">{moment(h.at)}</span></p>
								<p>
									{h.kind === 'basis' ? 'Basis' : h.kind === 'formula' ? 'Formula' : 'Typed'}:
									<s>{(view.column ? wordsOf(h.before, t) : h.before) || 'blank'}</s>
									→ <b>{(view.column ? wordsOf(h.after, t) : h.after) || 'blank'}</b>
								</p>
								{#if h.why}<p class="muted">{h.why}</p>{/if}
							</div>
						{:else}
							<p class="muted">
								{isMonth(t.ref)
									? 'Nobody has changed this since the company was loaded.'
									: `Open a single ${calendar.words.one} to see who changed it.`}
							</p>
						{/each}
					</section>
				{/if}
				{#if cell}
					<div class:away={tab !== 'notes'}>
						{#key JSON.stringify(cell)}
							<CellNotes
								scenario={sheet.current.scenario}
								{cell}
								format={t.format}
								{typed}
								column={view.column !== undefined}
								oncount={(n) => (noteCount = n)}
							/>
						{/key}
					</div>
				{/if}
			</div>
		{:else}
			<p class="muted">Opening …</p>
		{/if}
	</aside>
{/if}

<style>
	aside {
		width: 316px;
		flex: none;
		background: var(--sheet);
		border-left: 1px solid var(--rule);
		padding: 10px 14px 20px;
		overflow-y: auto;
		font-size: 13px;
	}
	.top {
		display: flex;
		min-height: 24px;
	}
	.big {
		font-size: 22px;
		font-weight: 600;
		margin: 6px 0 8px;
		font-variant-numeric: tabular-nums;
	}
	.tabs {
		border-bottom: 1px solid var(--rule);
		margin-bottom: 10px;
	}
	section {
		margin-bottom: 16px;
	}
	h3 {
		font-weight: 600;
		margin: 6px 0 2px;
	}
	h3 small,
	li small {
		font-weight: 400;
		color: var(--ink-2);
		font-size: 11.5px;
	}
	li small {
		display: block;
	}
	code {
		display: block;
		font-family: var(--font-mono);
		font-size: 12px;
		background: var(--tint);
		padding: 6px 8px;
		border-radius: 4px;
		overflow-wrap: anywhere;
	}
	li button,
	.still {
		display: flex;
		justify-content: space-between;
		gap: 10px;
		width: 100%;
		text-align: left;
		padding: 4px 4px;
		border-bottom: 1px solid var(--rule);
	}
	li button:hover {
		background: var(--green-tint);
	}
	li b {
		font-weight: 500;
		font-variant-numeric: tabular-nums;
		white-space: nowrap;
	}
	.ledger li {
		display: grid;
		grid-template-columns: 46px 1fr auto;
		gap: 6px;
		padding: 5px 4px;
		border-bottom: 1px solid var(--rule);
	}
	.about {
		grid-column: 2 / 4;
	}
	.when {
		color: var(--ink-2);
	}
	.odd {
		background: var(--clay-tint);
		border-radius: 4px;
	}
	.odd b,
	.alarm {
		color: var(--clay);
		font-weight: 600;
	}
	.change {
		border-bottom: 1px solid var(--rule);
		padding: 6px 0;
		overflow-wrap: anywhere;
	}
	.away {
		display: none;
	}
	.problem {
		color: var(--clay);
	}
</style>
