<script lang="ts">
	import { digits } from '$lib/ui/writing/count';
	import { yearFrom } from '$lib/core/calendar/spans';
	import { goto } from '$app/navigation';
	import { Button, Checkbox, Input, Label, Modal, Select } from 'flowbite-svelte';
	import { ApiError, post, type Fault } from '$lib/ui/kit/api';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import Faults from '$lib/ui/kit/Faults.svelte';
	import type { ComponentProps } from 'svelte';
	import CopyPeriods from '$lib/ui/scenarios/CopyPeriods.svelte';
	import ScenarioList from '$lib/ui/scenarios/ScenarioList.svelte';
	import { exact, figure } from '$lib/ui/writing/format';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import Listing from '$lib/ui/kit/Listing.svelte';

	let { data } = $props();
	const company = useCompany();
	const { calendar } = company;
	const proposal = $derived(data.proposal);
	type Scenario = (typeof data.list)[number];
	let closing = $state(false);
	let name = $state('');
	let from = $state('');
	let accounts = $state('year-ago');
	let despite = $state(false);
	let following: string[] = $state([]);
	let problem = $state<{ message: string; faults: Fault[] } | null>(null);
	let busy = $state(false);
	let asking = $state<{ scenario: Scenario; what: 'copy' | 'unlock' } | { what: 'reopen' } | null>(null);
	let answer = $state('');
	let kind = $state('what-if');
	let withNotes = $state(false);
	let periods: ComponentProps<typeof CopyPeriods>['value'] = $state.raw({});
	const followers = $derived(proposal?.followers.filter((f) => f.follows === from) ?? []);
	const nameOf = (code: string | null) => data.list.find((s) => s.code === code)?.name ?? '';

	function startClosing() {
		if (!proposal) return;
		name = proposal.name;
		from = proposal.from[0]?.code ?? '';
		despite = false;
		following = [];
		problem = null;
		closing = true;
	}
	async function close(event: SubmitEvent) {
		event.preventDefault();
		if (!proposal?.month) return;
		busy = true;
		problem = null;
		try {
			const { scenario } = await post<{ scenario: string }>('close', {
				month: calendar.key(proposal.month),
				from,
				name,
				accounts,
				followers: following.filter((code) => followers.some((f) => f.code === code)),
				despiteUnmapped: despite
			});
			closing = false;
			notices.say(`${calendar.longLabel(proposal.month)} is closed; ${name} is the new forecast.`);
			const year = yearFrom(calendar, calendar.yearStart(calendar.fiscalYear(proposal.month)));
			await goto(withSelection('/plan', company.data.selection, calendar, { scenario, ...year }), {
				invalidateAll: true
			});
		} catch (e) {
			problem =
				e instanceof ApiError
					? { message: e.message, faults: e.faults }
					: { message: `The ${calendar.words.one} was not closed.`, faults: [] };
		} finally {
			busy = false;
		}
	}
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
	const KINDS = ['what-if', 'forecast', 'budget', 'long-range', 'target'].map((k) => ({ value: k, name: k }));
	const METHODS = [
		{ value: 'year-ago', name: `as the same ${calendar.words.one} a year before` },
		{ value: 'last', name: `as the ${calendar.words.one} before` },
		{ value: 'blank', name: 'left blank' }
	];
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
			<Button disabled={!proposal.from.length} onclick={startClosing}
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
			<Button size="xs" color="light" onclick={() => ask({ what: 'reopen' })}
				>Reopen {calendar.label(company.data.closedThrough)} …</Button
			>
		{/if}
	</section>
{/if}
<div class="both">
	<ScenarioList
		list={data.list}
		users={data.users}
		oncopy={(s) => ask({ scenario: s, what: 'copy' }, `${s.name} copy`)}
		onunlock={(s) => ask({ scenario: s, what: 'unlock' })}
		onlock={(s) => act(`scenarios/${s.code}/lock`, { locked: true }, `${s.name} is locked.`)}
	/>
	{#if data.changes}
		<section>
			<h2>What changed against {data.changes.against}</h2>
			<p class="muted">
				{calendar.label(data.changes.from)} – {calendar.label(data.changes.to)}, the months both have
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

{#if proposal?.month}
	<Modal title="Close {calendar.longLabel(proposal.month)}" bind:open={closing} size="md">
		<form id="close" class="form" onsubmit={close}>
			<Label for="close-from">Continue from</Label>
			<Select
				id="close-from"
				size="sm"
				items={proposal.from.map((s) => ({ value: s.code, name: s.name }))}
				bind:value={from}
			/>
			<Label for="close-name">Name of the new forecast</Label>
			<Input id="close-name" size="sm" required bind:value={name} />
			<p class="muted">
				It takes actuals through {calendar.longLabel(proposal.month)} and reaches {calendar.longLabel(
					Math.max(proposal.reaches, proposal.from.find((s) => s.code === from)?.last ?? 0)
				)}. Driver models come along; each of their lines says how it is carried on.
			</p>
			<Label for="close-accounts">Accounts typed by hand, in {calendar.words.many} that are new</Label>
			<Select id="close-accounts" size="sm" items={METHODS} bind:value={accounts} />
			{#if followers.length}
				<fieldset>
					<legend
						>Plans that look back through {nameOf(from)}; tick those that shall look back through the new
						forecast</legend
					>
					{#each followers as f (f.code)}<Checkbox value={f.code} bind:group={following}>{f.name}</Checkbox
						>{/each}
				</fieldset>
			{/if}
			{#if proposal.unmapped.length}
				<div class="unmapped">
					<b>Not mapped, so missing from the figures:</b>
					<ul>
						{#each proposal.unmapped as u (u.code)}<li>
								{u.code}
								{u.name}: {exact(u.amount, 'money')}
							</li>{/each}
					</ul>
					<p>
						<a class="plain" href={withSelection('/setup/map', company.data.selection, calendar)}
							>Map {proposal.unmapped.length === 1 ? 'it' : 'them'} first</a
						>, or
					</p>
					<Checkbox bind:checked={despite}>close all the same</Checkbox>
				</div>
			{/if}
			{#if problem}<Faults message={problem.message} faults={problem.faults} />{/if}
		</form>
		{#snippet footer()}
			<Button type="submit" form="close" disabled={busy}
				>{busy ? 'Closing …' : `Close the ${calendar.words.one}`}</Button
			>
			<Button color="light" onclick={() => (closing = false)}>Cancel</Button>
		{/snippet}
	</Modal>
{/if}
<Modal
	title={asking?.what === 'reopen'
		? `Reopen the last closed ${calendar.words.one}`
		: asking?.what === 'unlock'
			? `Unlock ${asking.scenario.name}`
			: asking
				? `Copy ${asking.scenario.name}`
				: ''}
	bind:open={
		() => asking !== null,
		(v) => {
			if (!v) asking = null;
		}
	}
	size="sm"
>
	<form id="ask" class="form" onsubmit={confirmAsked}>
		{#if asking?.what === 'reopen'}<p>
				Its ledger file can then be replaced. Every scenario that takes its actuals from it will follow.
			</p>{/if}
		<Label for="answer">{asking?.what === 'copy' ? 'Name of the copy' : 'Why'}</Label>
		<Input id="answer" size="sm" required bind:value={answer} />
		{#if asking?.what === 'copy'}
			<Label for="kind">Kind</Label>
			<Select id="kind" size="sm" items={KINDS} bind:value={kind} />
			{#if kind === 'target'}<p class="muted">
					Targets hold the figures of every account, typed; driver models stay behind.
				</p>{/if}
			{#if kind !== 'target'}<CopyPeriods scenario={asking.scenario} bind:value={periods} />{/if}
			<Checkbox bind:checked={withNotes}>take notes, items and attachments along</Checkbox>
		{/if}
	</form>
	{#snippet footer()}
		<Button type="submit" form="ask"
			>{asking?.what === 'copy' ? 'Copy' : asking?.what === 'unlock' ? 'Unlock' : 'Reopen'}</Button
		>
		<Button color="light" onclick={() => (asking = null)}>Cancel</Button>
	{/snippet}
</Modal>

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
	legend {
		font-size: 14px;
		font-weight: 500;
		padding-bottom: 4px;
	}
	.unmapped {
		background: var(--clay-tint);
		padding: 10px 12px;
		border-radius: 4px;
	}
	.odd {
		color: var(--clay);
	}
</style>
