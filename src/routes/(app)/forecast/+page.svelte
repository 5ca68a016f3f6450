<script lang="ts">
	import { digits } from '$lib/ui/writing/count';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import Input from '$lib/ui/kit/form/Input.svelte';
	import Label from '$lib/ui/kit/form/Label.svelte';
	import { ApiError, post } from '$lib/ui/kit/api';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import Dialog from '$lib/ui/kit/Dialog.svelte';
	import CloseDialog from '$lib/ui/scenarios/CloseDialog.svelte';
	import CopyDialog from '$lib/ui/scenarios/CopyDialog.svelte';
	import ScenarioList from '$lib/ui/scenarios/ScenarioList.svelte';
	import { figure } from '$lib/ui/writing/format';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import Listing from '$lib/ui/kit/Listing.svelte';

	let { data } = $props();
	const company = useCompany();
	const { calendar } = company;
	const proposal = $derived(data.proposal);
	type Scenario = (typeof data.list)[number];
	let closing = $state(false);
	let copying = $state.raw<Scenario | null>(null);
	let asking = $state<{ scenario: Scenario; what: 'unlock' } | { what: 'reopen' } | null>(null);
	let answer = $state('');

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
	function ask(what: NonNullable<typeof asking>) {
		answer = '';
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
		else
			void act(
				`scenarios/${asking.scenario.code}/lock`,
				{ locked: false, why: answer },
				`${asking.scenario.name} is unlocked.`
			);
	}
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
		oncopy={(s) => (copying = s)}
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
{#if copying}<CopyDialog scenario={copying} onclose={() => (copying = null)} />{/if}
{#if asking}
	<Dialog
		title={asking.what === 'reopen'
			? `Reopen the last closed ${calendar.words.one}`
			: `Unlock ${asking.scenario.name}`}
		action={asking.what === 'unlock' ? 'Unlock' : 'Reopen'}
		form="ask"
		onclose={() => (asking = null)}
	>
		<form id="ask" class="form" onsubmit={confirmAsked}>
			{#if asking.what === 'reopen'}<p>
					Its ledger file can then be replaced. Every scenario that takes its actuals from it will follow.
				</p>{/if}
			<Label for="answer">Why</Label>
			<Input id="answer" required bind:value={answer} />
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
