<script lang="ts">
	import { useModules } from '$lib/ui/kit/modules';
	import { digits } from '$lib/ui/writing/count';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import Tick from '$lib/ui/kit/form/Tick.svelte';
	import Input from '$lib/ui/kit/form/Input.svelte';
	import Label from '$lib/ui/kit/form/Label.svelte';
	import Select from '$lib/ui/kit/form/Select.svelte';
	import { ApiError, post } from '$lib/ui/kit/api';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import type { ComponentProps } from 'svelte';
	import Dialog from '$lib/ui/kit/Dialog.svelte';
	import CloseDialog from '$lib/ui/scenarios/CloseDialog.svelte';
	import CopyPeriods from '$lib/ui/scenarios/CopyPeriods.svelte';
	import ScenarioList from '$lib/ui/scenarios/ScenarioList.svelte';
	import { figure } from '$lib/ui/writing/format';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import Listing from '$lib/ui/kit/Listing.svelte';

	let { data } = $props();
	const company = useCompany();
	const isOn = useModules();
	const { calendar } = company;
	const proposal = $derived(data.proposal);
	type Scenario = (typeof data.list)[number];
	let closing = $state(false);
	let asking = $state<{ scenario: Scenario; what: 'copy' | 'unlock' } | { what: 'reopen' } | null>(null);
	let answer = $state('');
	let kind = $state(isOn('what-ifs') ? 'what-if' : 'forecast');
	let withNotes = $state(false);
	let periods: ComponentProps<typeof CopyPeriods>['value'] = $state.raw({});

	async function act(path: string, value: unknown, done: string) {
		try {
			await post(path, value);
			asking = null;
			answer = '';
			await reread();
			notices.say(done);
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'This did not work.', true);
		}
	}
	function ask(what: NonNullable<typeof asking>, start = '') {
		answer = start;
		asking = what;
	}
	function confirmAsked(event: SubmitEvent) {
		event.preventDefault();
		if (!asking) return;
		if (asking.what === 'reopen')
			void act(
				'close/reopen',
				{ month: calendar.key(company.data.closedThrough!), why: answer },
				`The ${calendar.words.one} is open again.`
			);
		else if (asking.what === 'unlock')
			void act(
				`scenarios/${asking.scenario.code}/lock`,
				{ locked: false, why: answer },
				`${asking.scenario.name} is unlocked.`
			);
		else
			void act(
				'scenarios',
				{
					from: asking.scenario.code,
					name: answer,
					kind,
					notes: withNotes,
					...(kind === 'target' ? {} : periods)
				},
				`${answer} is made; it is independent of ${asking.scenario.name}.`
			);
	}
	const KINDS = ['what-if', 'forecast', 'budget', 'long-range', 'target']
		.filter((k) => (k === 'what-if' ? isOn('what-ifs') : k !== 'target' || isOn('targets')))
		.map((k) => ({ value: k, name: k }));
</script>

<svelte:head><title>Forecast · Yardstave</title></svelte:head>

<h1>Forecast</h1>
{#if proposal}
	<section class="panel close">
		{#if proposal.month !== null}
			<div>
				<h2>{calendar.longLabel(proposal.month)} is loaded and open</h2>
				<p class="muted">
					{digits(proposal.entries)} entries.
					{#if proposal.unmapped.length}<b class="odd"
							>{proposal.unmapped.length} ledger {proposal.unmapped.length === 1
								? 'account is'
								: 'accounts are'} not mapped.</b
						>{/if}
					Closing it makes the next forecast: actuals through {calendar.longLabel(proposal.month)}, the rest
					as before, reaching a year ahead.
				</p>
			</div>
			<Button size="md" disabled={!proposal.from.length} onclick={() => (closing = true)}
				>Close {calendar.label(proposal.month)} …</Button
			>
		{:else}
			<div>
				<h2>
					{company.data.closedThrough === null
						? `No ${calendar.words.one} is loaded yet`
						: `Closed through ${calendar.longLabel(company.data.closedThrough)}`}
				</h2>
				<p class="muted">
					Load the next {calendar.words.one}’s ledger file under
					<a class="plain" href={withSelection('/setup/feed', company.data.selection, calendar)}>Set up</a> to close
					it.
				</p>
			</div>
		{/if}
		{#if company.data.closedThrough !== null}
			<Button quiet onclick={() => ask({ what: 'reopen' })}
				>Reopen {calendar.label(company.data.closedThrough)} …</Button
			>
		{/if}
	</section>
{/if}
<div class="both">
	<ScenarioList
		list={data.list}
		users={data.users}
		rateSets={data.rateSets}
		oncopy={(s) => ask({ scenario: s, what: 'copy' }, `${s.name} copy`)}
		onunlock={(s) => ask({ scenario: s, what: 'unlock' })}
		onlock={(s) => act(`scenarios/${s.code}/lock`, { locked: true }, `${s.name} is locked.`)}
	/>
	{#if data.changes}
		<section>
			<h2>What changed against {data.changes.against}</h2>
			<p class="muted">
				{calendar.label(data.changes.from)} – {calendar.label(data.changes.to)}, the {calendar.words.many} both
				have
			</p>
			<Listing>
				<thead
					><tr><th>Account</th><th class="num">Was</th><th class="num">Now</th><th class="num">Change</th></tr
					></thead
				>
				<tbody>
					{#each data.changes.rows as r (r.account)}
						<tr>
							<td>{r.name}</td>
							<td class="num">{figure(r.was, 'money', company.data.figures)}</td>
							<td class="num">{figure(r.now, 'money', company.data.figures)}</td>
							<td class="num"><b>{figure(r.now - r.was, 'money', company.data.figures)}</b></td>
						</tr>
					{/each}
				</tbody>
			</Listing>
		</section>
	{/if}
</div>

{#if proposal?.month && closing}
	<CloseDialog {proposal} onclose={() => (closing = false)} />
{/if}
{#if asking}
	<Dialog
		title={asking.what === 'reopen'
			? `Reopen the last closed ${calendar.words.one}`
			: `${asking.what === 'unlock' ? 'Unlock' : 'Copy'} ${asking.scenario.name}`}
		action={asking.what === 'copy' ? 'Copy' : asking.what === 'unlock' ? 'Unlock' : 'Reopen'}
		form="ask"
		onclose={() => (asking = null)}
	>
		<form id="ask" class="form" onsubmit={confirmAsked}>
			{#if asking.what === 'reopen'}<p>
					Its ledger file can then be replaced. Every scenario that takes its actuals from it will follow.
				</p>{/if}
			<Label for="answer">{asking.what === 'copy' ? 'Name of the copy' : 'Why'}</Label>
			<Input id="answer" required bind:value={answer} />
			{#if asking.what === 'copy'}
				<Label for="kind">Kind</Label>
				<Select id="kind" items={KINDS} bind:value={kind} />
				{#if kind === 'target'}<p class="muted">
						Targets hold the figures of every account, typed; driver models stay behind.
					</p>{/if}
				{#if kind !== 'target'}<CopyPeriods scenario={asking.scenario} bind:value={periods} />{/if}
				<Tick bind:checked={withNotes}>take notes, items and attachments along</Tick>
			{/if}
		</form>
	</Dialog>
{/if}

<style>
	.close {
		display: flex;
		gap: 12px;
		align-items: center;
		margin: 10px 0 14px;
	}
	.close > div {
		flex: 1;
	}
	.both {
		display: grid;
		grid-template-columns: minmax(0, 1fr);
		gap: 18px;
		align-items: start;
	}
	.both h2 {
		margin-bottom: 6px;
	}
	.form {
		display: grid;
		gap: 8px;
	}
	.odd {
		color: var(--clay);
	}
</style>
