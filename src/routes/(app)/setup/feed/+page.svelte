<script lang="ts">
	import { amountsText } from '$lib/ui/writing/amounts';
	import { fromWriting, type Written } from '$lib/core/calendar/writing';
	import { FEED_PERIODS } from '$lib/core/views/written';
	import { counted, digits } from '$lib/ui/writing/count';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import type { FeedOptions, FeedPreview } from '$lib/server/ledger/feed';
	import { ApiError, remove, send, type Fault } from '$lib/ui/kit/api';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import Dialog from '$lib/ui/kit/Dialog.svelte';
	import Faults from '$lib/ui/kit/Faults.svelte';
	import { exact, moment } from '$lib/ui/writing/format';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import Listing from '$lib/ui/kit/Listing.svelte';
	import Choice from '$lib/ui/kit/form/Choice.svelte';
	import NewPlanning from '$lib/ui/map/NewPlanning.svelte';
	import FileDrop from '$lib/ui/kit/form/FileDrop.svelte';

	let { data } = $props();
	const company = useCompany();
	const { calendar } = company;
	let file = $state<File | null>(null);
	type FeedPeriod = (typeof FEED_PERIODS)[number];
	type Looked = FeedPreview & { said: string };
	let preview = $state<Looked | null>(null);
	let map: Record<string, string | null> = $state({});
	let problem = $state<{ message: string; faults: Fault[] } | null>(null);
	let busy = $state('');
	/** Whether it has been said which sign is the decimal one, where the file alone does not tell. */
	let signSaid = $state(false);
	let takingOut = $state<{ period: number; entries: number; problem: string } | null>(null);
	let picker: FileDrop | undefined = $state();

	const FIELDS: [string, string, boolean][] = $derived([
		['date', 'Date', true],
		['ledger_account', 'Ledger account', true],
		['ledger_account_name', 'Account name', false],
		['department', 'Department', true],
		['amount', 'Amount', false],
		['debit', 'Debit', false],
		['credit', 'Credit', false],
		['document', 'Document', false],
		['party', 'Party', false],
		['description', 'Description', false],
		...data.dimensionNames.map((d) => [d.code, d.name, false] as [string, string, boolean])
	]);
	const money = (v: number) => exact(v, 'money');
	/** Whether entries are in several currencies, which have no sum. */
	const several = $derived(data.money.local !== data.money.reporting);
	const unmapped = $derived(preview?.accounts.filter((a) => a.account === null) ?? []);
	const chosenNow = $derived(preview?.accounts.filter((a) => a.account !== null && map[a.code]) ?? []);
	const ready = $derived(
		preview !== null &&
			preview.faultCount === 0 &&
			!preview.closed &&
			preview.month !== null &&
			(preview.doubtful === null || signSaid)
	);
	/** What figures can stand in. */
	const leaves = $derived(data.planning.filter((p) => p.leaf));
	const NEW = '@new';
	/** The ledger account that a planning account is being made for. */
	let making = $state.raw<Looked['accounts'][number] | null>(null);
	async function made([account]: { code: string; name: string }[]) {
		const { code } = making!;
		making = null;
		await reread();
		mapTo(code, account.code);
		notices.say(`${account.name} is made; ${code} goes into it when the file is loaded.`);
	}
	const accountName = (code: string) => data.planning.find((p) => p.code === code)?.name ?? code;

	async function choose(chosen: File | undefined | null) {
		if (!chosen) return;
		file = chosen;
		map = {};
		signSaid = false;
		preview = null;
		await look(null);
	}
	async function look(options: FeedOptions | null) {
		if (!file) return;
		busy = `Reading ${file.name} …`;
		problem = null;
		try {
			const found = await send<Written<Looked, FeedPeriod>>('feeds/preview', file, { options, map });
			preview = fromWriting<Looked, FeedPeriod>(calendar, found, FEED_PERIODS);
		} catch (e) {
			preview = null;
			problem =
				e instanceof ApiError
					? { message: e.message, faults: e.faults }
					: { message: 'The file could not be read.', faults: [] };
		} finally {
			busy = '';
		}
	}
	function setColumn(field: string, value: string) {
		if (!preview) return;
		const columns = { ...preview.options.columns };
		if (value === '') delete columns[field];
		else columns[field] = Number(value);
		void look({ ...preview.options, columns });
	}
	async function run() {
		if (!file || !preview || preview.month === null) return;
		busy = `Loading ${digits(preview.rows)} entries …`;
		problem = null;
		try {
			const done = await send<{ period: string; entries: number; replaced: number }>('feeds/run', file, {
				options: preview.options,
				month: calendar.key(preview.month),
				map
			});
			notices.say(
				`${calendar.longLabel(calendar.parse(done.period)!)}: ${digits(done.entries)} entries loaded` +
					(done.replaced ? `, in place of ${digits(done.replaced)}.` : '.')
			);
			preview = null;
			file = null;
			picker?.clear();
			await reread();
		} catch (e) {
			problem =
				e instanceof ApiError
					? { message: e.message, faults: e.faults }
					: { message: 'The file was not loaded.', faults: [] };
		} finally {
			busy = '';
		}
	}
	/** What an amount such as 1,234 is with a decimal sign, in words that no other sign confuses. */
	function meaning(text: string, decimal: '.' | ',') {
		const [whole, rest] = text.replace(/[^\d.,]/g, '').split(/[.,]/);
		return text.includes(decimal)
			? `It is ${whole} and ${rest} thousandths`
			: `It is ${whole} thousand ${rest}`;
	}
	function saySign(decimal: '.' | ',') {
		signSaid = true;
		void look({ ...preview!.options, decimal });
	}
	async function takeOut() {
		const { period } = takingOut!;
		try {
			const { entries } = await remove<{ entries: number }>(`feeds/months/${calendar.key(period)}`);
			takingOut = null;
			notices.say(
				`${counted(entries, 'entry', 'entries')} of ${calendar.longLabel(period)}: taken out. Load its file to have them back.`
			);
			await reread();
		} catch (e) {
			takingOut!.problem = e instanceof ApiError ? e.message : `The ${calendar.words.one} was not taken out.`;
		}
	}
	function mapTo(ledger: string, account: string) {
		map = { ...map, [ledger]: account === '' ? null : account };
		void look(preview!.options);
	}
</script>

<svelte:head><title>Ledger feed · Yardstave</title></svelte:head>

<h1>Ledger feed</h1>
<p class="muted">
	{#if data.loaded}Loaded from {calendar.longLabel(data.loaded.first)} through
		<b>{calendar.longLabel(data.loaded.last)}</b>{#if company.data.closedThrough !== null}; closed through <b
				>{calendar.longLabel(company.data.closedThrough)}</b
			>{/if}.
	{:else}Nothing has been loaded yet.{/if}
	A {calendar.words.one}’s file replaces what was loaded for that {calendar.words.one}.
</p>

<FileDrop
	bind:this={picker}
	label="Ledger file"
	accept=".csv,.txt,text/csv,.xlsx"
	chosen={file?.name}
	onfile={choose}
>
	Choose a {calendar.words.one}’s ledger file (CSV or XLSX)
	{#snippet after()}{#if busy}<span role="status">{busy}</span>{/if}{/snippet}
</FileDrop>

{#if problem}<Faults message={problem.message} faults={problem.faults} />{/if}

{#if preview}
	<div class="verdict panel">
		<div class="facts">
			<div>
				<small>{calendar.words.One}</small><b
					>{preview.month === null ? 'not found' : calendar.longLabel(preview.month)}</b
				>
			</div>
			<div><small>Entries</small><b>{digits(preview.rows)}</b></div>
			<div>
				<small>Replaces</small><b
					>{preview.replaces ? `${digits(preview.replaces)} loaded before` : 'nothing'}</b
				>
			</div>
			<div class="proof">
				<small
					>Reconciliation, debit less credit{preview.faultCount
						? ', of the rows that can be read'
						: ''}</small
				>
				<b
					>{amountsText(preview.total, data.company.currency)} = {amountsText(
						preview.mapped,
						data.company.currency
					)} mapped + {amountsText(preview.unmapped, data.company.currency)} unmapped</b
				>
			</div>
		</div>
		<Button size="md" disabled={!ready || busy !== ''} onclick={run}
			>Load {preview.month === null ? '' : calendar.label(preview.month)}</Button
		>
	</div>
	{#if preview.closed && preview.month !== null}
		<Faults
			message="{calendar.longLabel(
				preview.month
			)} is closed, so its entries cannot be replaced. Reopen it under Forecast first."
		/>
	{/if}
	{#if preview.doubtful !== null && preview.faultCount === 0}
		<section class="panel question">
			<h2>Which is the decimal sign?</h2>
			<p>
				The file has amounts such as <b>{preview.doubtful}</b>, and none that tells what their sign means.
			</p>
			<div class="answers">
				{#each ['.', ','] as const as decimal (decimal)}
					<Button
						size="md"
						quiet={!(signSaid && preview.options.decimal === decimal)}
						aria-pressed={signSaid && preview.options.decimal === decimal}
						onclick={() => saySign(decimal)}>{meaning(preview.doubtful, decimal)}</Button
					>
				{/each}
			</div>
		</section>
	{/if}
	{#if preview.said}<p class="muted">{preview.said}</p>{/if}
	{#if preview.faultCount}
		<Faults
			message="{preview.faultCount} {preview.faultCount === 1
				? 'place has'
				: 'places have'} to be mended in {preview.file} before it can be loaded. Nothing has changed."
			faults={preview.faults}
			count={preview.faultCount}
		/>
	{/if}
	{#if unmapped.length || chosenNow.length}
		<section class="panel">
			<h2>
				{unmapped.length
					? `${counted(unmapped.length, 'ledger account is', 'ledger accounts are')} not mapped`
					: 'All ledger accounts are mapped'}
			</h2>
			<Listing>
				<thead
					><tr
						><th>Ledger account</th><th class="num">Entries</th><th class="num">Amount</th><th
							>Planning account</th
						><th></th></tr
					></thead
				>
				<tbody>
					{#each [...unmapped, ...chosenNow] as a (a.code)}
						<tr>
							<td
								><b>{a.code}</b>
								{a.name}{#if a.isNew}<small class="new">new</small>{/if}</td
							>
							<td class="num">{a.entries}</td>
							<td class="num">{amountsText(a.amounts, data.company.currency)}</td>
							<td>
								<Choice
									style="max-width: 260px"
									value={map[a.code] ?? ''}
									onpick={(v) => {
										if (v !== NEW) return mapTo(a.code, v);
										making = a;
										return false;
									}}
									aria-label="Planning account for {a.code}"
								>
									<option value="">not mapped</option>
									{#if data.may['change accounts']}<option value={NEW}>a new account …</option>{/if}
									{#each leaves as p (p.code)}<option value={p.code}>{p.code} {p.name}</option>{/each}
								</Choice>
							</td>
							<td>
								{#if a.suggestion && !map[a.code]}
									<Button quiet onclick={() => mapTo(a.code, a.suggestion!.account)}>
										Map to {accountName(a.suggestion.account)}
									</Button>
									<small class="muted">
										{a.suggestion.reason.kind === 'name'
											? `like “${a.suggestion.reason.like}”`
											: `next to ${a.suggestion.reason.next}`}
									</small>
								{/if}
							</td>
						</tr>
					{/each}
				</tbody>
			</Listing>
		</section>
	{/if}
	{#if preview.unusual.length}
		<section class="panel">
			<h2>
				{counted(preview.unusual.length, 'entry is', 'entries are')} far from the usual size
			</h2>
			<p class="muted">They will be loaded as they are; check them in the ledger.</p>
			<Listing>
				<thead
					><tr
						><th>Row</th><th>Date</th><th>Ledger account</th><th>Party</th><th>Document</th><th class="num"
							>Amount</th
						><th class="num">Usual up to</th></tr
					></thead
				>
				<tbody>
					{#each preview.unusual as u (u.row)}
						<tr
							><td>{u.row}</td><td>{u.date}</td><td>{u.ledgerAccount}</td><td>{u.party}</td><td
								>{u.document}</td
							><td class="num odd">{money(u.amount)}</td><td class="num"
								>{exact(Math.round(u.high), 'number')}</td
							></tr
						>
					{/each}
				</tbody>
			</Listing>
		</section>
	{/if}
	<details class="panel" open={preview.faultCount > 0}>
		<summary>Columns and form of the file</summary>
		<div class="columns">
			{#each FIELDS as [field, name, needed] (field)}
				<label>
					<span>{name}{needed ? ' *' : ''}</span>
					<Choice
						style="max-width: 260px"
						value={String(preview.options.columns[field] ?? '')}
						onpick={(v) => setColumn(field, v)}
					>
						<option value="">not in the file</option>
						{#each preview.heading as heading, i (i)}<option value={String(i)}
								>{heading}{preview.sample[0]?.[i] ? ` (${preview.sample[0][i]})` : ''}</option
							>{/each}
					</Choice>
				</label>
			{/each}
			<label
				><span>Decimals</span>
				<Choice
					style="max-width: 260px"
					value={preview.options.decimal}
					onpick={(v) => saySign(v as '.' | ',')}
				>
					<option value=".">1,234.56</option><option value=",">1.234,56</option>
				</Choice>
			</label>
			<label
				><span>Dates</span>
				<Choice
					style="max-width: 260px"
					value={preview.options.dates}
					onpick={(v) => look({ ...preview!.options, dates: v as FeedOptions['dates'] })}
				>
					<option value="year-first">2026-10-31</option><option value="day-first">31/10/2026</option><option
						value="month-first">10/31/2026</option
					>
				</Choice>
			</label>
			<label
				><span>A positive amount is</span>
				<Choice
					style="max-width: 260px"
					value={preview.options.positive}
					onpick={(v) => look({ ...preview!.options, positive: v as 'debit' | 'credit' })}
				>
					<option value="debit">a debit</option><option value="credit">a credit</option>
				</Choice>
			</label>
		</div>
	</details>
	<details class="panel">
		<summary>Totals by ledger account ({preview.accounts.length})</summary>
		<div class="scroll">
			<Listing>
				<thead
					><tr
						><th>Ledger account</th><th>Planning account</th><th class="num">Entries</th><th class="num"
							>Amount</th
						></tr
					></thead
				>
				<tbody>
					{#each preview.accounts as a (a.code)}
						<tr
							><td>{a.code} {a.name}</td><td>{a.account ? `${a.account} ${a.accountName}` : 'not mapped'}</td
							><td class="num">{a.entries}</td><td class="num"
								>{amountsText(a.amounts, data.company.currency)}</td
							></tr
						>
					{/each}
					<tr class="sum"
						><td>File total</td><td></td><td class="num"
							>{preview.accounts.reduce((s, a) => s + a.entries, 0)}</td
						><td class="num">{amountsText(preview.total, data.company.currency)}</td></tr
					>
				</tbody>
			</Listing>
		</div>
	</details>
{:else if !busy}
	<section>
		<h2>Runs</h2>
		{#if data.runs.length}
			<Listing>
				<thead
					><tr
						><th>{calendar.words.One}</th><th>File</th><th class="num">Entries</th><th class="num"
							>Replaced</th
						>{#if !several}<th class="num">Debits</th>{/if}<th class="num">Unmapped</th><th>Run</th></tr
					></thead
				>
				<tbody>
					{#each data.runs as run (run.id)}
						<tr>
							<td>{calendar.longLabel(run.period)}</td>
							<td>{run.file || 'taken out'}</td>
							<td class="num">{digits(run.entries)}</td>
							<td class="num">{run.replaced ? digits(run.replaced) : '–'}</td>
							{#if !several}<td class="num">{money(run.debits)}</td>{/if}
							<td class="num" class:odd={run.unmapped !== 0}
								>{!run.unmapped ? '–' : several ? 'some' : money(run.unmapped)}</td
							>
							<td>{run.name}, {moment(run.at)}</td>
						</tr>
					{/each}
				</tbody>
			</Listing>
		{:else}<p class="muted">No file has been loaded here yet. Choose one above.</p>{/if}
		{#if data.openMonths.length}
			<h2 class="further">Loaded and not closed</h2>
			<Listing style="max-width: 460px">
				<tbody>
					{#each data.openMonths as m (m.period)}
						<tr>
							<td>{calendar.longLabel(m.period)}</td>
							<td class="num">{counted(m.entries, 'entry', 'entries')}</td>
							<td
								><Button
									quiet
									aria-label="Take {calendar.longLabel(m.period)} out"
									onclick={() => (takingOut = { ...m, problem: '' })}>Take out …</Button
								></td
							>
						</tr>
					{/each}
				</tbody>
			</Listing>
		{/if}
		<p class="next">
			<a class="plain" href={withSelection('/compare', company.data.selection, calendar)}>See the variances</a
			>
		</p>
	</section>
{/if}

{#if takingOut}
	<Dialog
		title="Take {calendar.longLabel(takingOut.period)} out"
		action="Take out"
		problem={takingOut.problem}
		onaction={takeOut}
		onclose={() => (takingOut = null)}
	>
		<p>
			{digits(takingOut.entries)} ledger entries of {calendar.longLabel(takingOut.period)} go. What is planned stays
			as it is; loading the month’s file brings them back.
		</p>
	</Dialog>
{/if}

{#if making}
	<NewPlanning
		ledgers={[making]}
		planning={data.planning}
		heading={null}
		each={false}
		later
		ondone={made}
		onclose={() => (making = null)}
	/>
{/if}

<style>
	.further {
		margin-top: 16px;
	}
	.answers {
		display: flex;
		gap: 8px;
		margin-top: 10px;
	}
	.panel,
	:global(.faults) {
		margin-bottom: 10px;
		flex: none;
	}
	.verdict {
		display: flex;
		align-items: center;
		justify-content: space-between;
		gap: 16px;
	}
	.verdict > :global(button) {
		flex: none;
	}
	.facts {
		display: flex;
		gap: 26px;
		flex-wrap: wrap;
	}
	small {
		display: block;
		color: var(--ink-2);
		font-size: 12px;
	}
	td small {
		display: inline;
	}
	.new {
		margin-left: 6px;
		color: var(--plum);
	}
	.odd {
		color: var(--clay);
		font-weight: 600;
	}
	summary {
		cursor: pointer;
		font-weight: 600;
	}
	.columns {
		display: grid;
		grid-template-columns: repeat(3, 1fr);
		gap: 8px 20px;
		margin-top: 10px;
	}
	.columns label {
		display: grid;
		grid-template-columns: 120px 1fr;
		align-items: center;
	}
	.scroll {
		max-height: 360px;
		overflow: auto;
		margin-top: 8px;
	}
	.sum td {
		font-weight: 600;
		border-top: 1px solid var(--ink-2);
	}
	section h2 {
		margin-bottom: 6px;
	}
	.next {
		margin-top: 12px;
	}
</style>
