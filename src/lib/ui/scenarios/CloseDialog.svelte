<script lang="ts">
	import type { Amounts } from '../../core/currency/amounts';
	import { amountsText } from '../writing/amounts';
	import { goto } from '$app/navigation';
	import { yearFrom } from '../../core/calendar/spans';
	import { ApiError, post, type Fault } from '../kit/api';
	import Dialog from '../kit/Dialog.svelte';
	import Faults from '../kit/Faults.svelte';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';
	import Select from '../kit/form/Select.svelte';
	import Tick from '../kit/form/Tick.svelte';
	import { notices } from '../kit/notices.svelte';
	import { useCompany, withSelection } from '../shell/company';

	interface Props {
		/** What closing the next month would do. */
		proposal: {
			month: number | null;
			name: string;
			reaches: number;
			from: readonly { code: string; name: string; last: number }[];
			/** Plans that look back through one of those that can be continued from. */
			followers: readonly { code: string; name: string; follows: string }[];
			unmapped: readonly { code: string; name: string; amounts: Amounts }[];
		};
		onclose: () => void;
	}
	/** Closes a month: what the next forecast is called, what it goes on from, and how. */
	let { proposal, onclose }: Props = $props();
	const company = useCompany();
	const { calendar } = company;
	const month = $derived(proposal.month!);
	// svelte-ignore state_referenced_locally
	let name = $state(proposal.name);
	// svelte-ignore state_referenced_locally
	let from = $state(proposal.from[0]?.code ?? '');
	let accounts = $state('year-ago');
	let despite = $state(false);
	let following: string[] = $state([]);
	let problem = $state<{ message: string; faults: Fault[] } | null>(null);
	let busy = $state(false);
	const origin = $derived(proposal.from.find((s) => s.code === from));
	const followers = $derived(proposal.followers.filter((f) => f.follows === from));
	const METHODS = [
		{ value: 'year-ago', name: `as the same ${calendar.words.one} a year before` },
		{ value: 'last', name: `as the ${calendar.words.one} before` },
		{ value: 'blank', name: 'left blank' }
	];

	async function close(event: SubmitEvent) {
		event.preventDefault();
		busy = true;
		problem = null;
		try {
			const { scenario } = await post<{ scenario: string }>('close', {
				month: calendar.key(month),
				from,
				name,
				accounts,
				followers: following.filter((code) => followers.some((f) => f.code === code)),
				despiteUnmapped: despite
			});
			onclose();
			notices.say(`${calendar.longLabel(month)} is closed; ${name} is the new forecast.`);
			const year = yearFrom(calendar, calendar.yearStart(calendar.fiscalYear(month)));
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
</script>

<Dialog
	title="Close {calendar.longLabel(month)}"
	size="md"
	action={busy ? 'Closing …' : `Close the ${calendar.words.one}`}
	form="close"
	disabled={busy}
	{onclose}
>
	<form id="close" onsubmit={close}>
		<Label for="close-from">Continue from</Label>
		<Select
			id="close-from"
			items={proposal.from.map((s) => ({ value: s.code, name: s.name }))}
			bind:value={from}
		/>
		<Label for="close-name">Name of the new forecast</Label>
		<Input id="close-name" required bind:value={name} />
		<p class="muted">
			It takes actuals through {calendar.longLabel(month)} and reaches {calendar.longLabel(
				Math.max(proposal.reaches, origin?.last ?? 0)
			)}. Driver models come along; each of their lines says how it is carried on.
		</p>
		<Label for="close-accounts">Accounts typed by hand, in {calendar.words.many} that are new</Label>
		<Select id="close-accounts" items={METHODS} bind:value={accounts} />
		{#if followers.length}
			<fieldset>
				<legend
					>Plans that look back through {origin?.name}; tick those that shall look back through the new
					forecast</legend
				>
				{#each followers as f (f.code)}<Tick value={f.code} bind:group={following}>{f.name}</Tick>{/each}
			</fieldset>
		{/if}
		{#if proposal.unmapped.length}
			<div class="unmapped">
				<b>Not mapped, so missing from the figures:</b>
				<ul>
					{#each proposal.unmapped as u (u.code)}<li>
							{u.code}
							{u.name}: {amountsText(u.amounts, company.data.company.currency)}
						</li>{/each}
				</ul>
				<p>
					<a class="plain" href={withSelection('/setup/map', company.data.selection, calendar)}
						>Map {proposal.unmapped.length === 1 ? 'it' : 'them'} first</a
					>, or
				</p>
				<Tick bind:checked={despite}>close all the same</Tick>
			</div>
		{/if}
		{#if problem}<Faults message={problem.message} faults={problem.faults} />{/if}
	</form>
</Dialog>

<style>
	form {
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
</style>
