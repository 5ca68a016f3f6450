<script lang="ts">
	import { untrack } from 'svelte';
	import { SCHEDULE_TEMPLATES } from '../../core/blocks/schedule/templates';
	import { ApiError, post } from '../kit/api';
	import Dialog from '../kit/Dialog.svelte';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';
	import Radio from '../kit/form/Radio.svelte';
	import Select from '../kit/form/Select.svelte';
	import Tick from '../kit/form/Tick.svelte';

	/** Begins a schedule: from a template, blank, or as a copy. */
	interface Props {
		scenario: { code: string; name: string };
		/** Other scenarios that may get it too. */
		others: readonly { code: string; name: string }[];
		schedules: readonly { code: string; name: string }[];
		/** To which its lines can be posted. */
		accounts: readonly { code: string; name: string; balance: boolean }[];
		onmade: (code: string) => void;
		onclose: () => void;
	}
	let { scenario, others, schedules, accounts, onmade, onclose }: Props = $props();

	let kind: 'template' | 'blank' | 'copy' = $state('template');
	let template = $state(SCHEDULE_TEMPLATES[0].code);
	let copied = $state(untrack(() => schedules[0]?.code ?? ''));
	let withRows = $state(true);
	let name = $state('');
	let one = $state('');
	/** Line → account. */
	let posted: Record<string, string> = $state({});
	let also: string[] = $state([]);
	let problem = $state('');
	let busy = $state(false);
	const chosen = $derived(SCHEDULE_TEMPLATES.find((t) => t.code === template)!);
	const offered = (balance: boolean) => [
		{ value: '', name: 'not posted' },
		...accounts
			.filter((a) => a.balance === balance)
			.map((a) => ({ value: a.code, name: `${a.code} ${a.name}` }))
	];

	async function make() {
		const wanted = name.trim() || (kind === 'template' ? chosen.name : '');
		if (!wanted) {
			problem = 'Give it a name.';
			return;
		}
		busy = true;
		problem = '';
		try {
			const posts = chosen.posts.flatMap(({ line }) => (posted[line] ? [[line, posted[line]]] : []));
			const from =
				kind === 'copy'
					? { kind, schedule: copied, withRows }
					: kind === 'template'
						? { kind, template, accounts: Object.fromEntries(posts) }
						: { kind };
			const { code } = await post<{ code: string }>('schedules', {
				scenarios: [scenario.code, ...also],
				name: wanted,
				one,
				from
			});
			onmade(code);
		} catch (e) {
			problem =
				e instanceof ApiError
					? [e.message, ...e.faults.map((f) => f.message)].join(' ')
					: 'The schedule was not made.';
		} finally {
			busy = false;
		}
	}
</script>

{#snippet posts(
	legend: string,
	list: readonly { line: string; says: string }[],
	items: { value: string; name: string }[]
)}
	<fieldset>
		<legend>{legend}</legend>
		<div class="posts">
			{#each list as { line, says } (line)}
				<Label for="post-{line}">{says}</Label>
				<Select
					id="post-{line}"
					placeholder=""
					bind:value={() => posted[line] ?? '', (v) => (posted[line] = v)}
					{items}
				/>
			{/each}
		</div>
	</fieldset>
{/snippet}

<Dialog
	title="A new schedule in {scenario.name}"
	action={busy ? 'Calculating …' : 'Make it'}
	size="md"
	disabled={busy}
	{problem}
	onaction={make}
	{onclose}
>
	<div class="form">
		<fieldset>
			<legend>Start from</legend>
			<div class="ways">
				<Radio name="from" value="template" bind:group={kind}>a template</Radio>
				<Radio name="from" value="blank" bind:group={kind}>a blank list</Radio>
				{#if schedules.length}<Radio name="from" value="copy" bind:group={kind}>a copy</Radio>{/if}
			</div>
			{#if kind === 'template'}
				<Select
					aria-label="Template"
					placeholder=""
					bind:value={template}
					items={SCHEDULE_TEMPLATES.map((t) => ({ value: t.code, name: t.name }))}
				/>
				<p class="muted">{chosen.description}</p>
			{:else if kind === 'copy'}
				<Select
					aria-label="Copy of"
					placeholder=""
					bind:value={copied}
					items={schedules.map((s) => ({ value: s.code, name: s.name }))}
				/>
				<Tick bind:checked={withRows}>with its rows</Tick>
				<p class="muted">A copy posts to no account, so that nothing counts twice.</p>
			{:else}
				<p class="muted">Rows with a name and a department, and one amount that is typed by month.</p>
			{/if}
		</fieldset>
		<div class="two">
			<div>
				<Label for="schedule-name">Name</Label>
				<Input
					id="schedule-name"
					bind:value={name}
					placeholder={kind === 'template' ? chosen.name : 'Equipment leases'}
				/>
			</div>
			<div>
				<Label for="schedule-one">One of its rows is called</Label>
				<Input
					id="schedule-one"
					bind:value={one}
					placeholder={kind === 'template' ? chosen.form.one : 'lease'}
				/>
			</div>
		</div>
		{#if kind === 'template'}
			{@const flows = chosen.posts.filter((p) => !p.balance)}
			{@const balances = chosen.posts.filter((p) => p.balance)}
			{#if flows.length}{@render posts(
					`Posted to, in the department of each ${one || chosen.form.one}`,
					flows,
					offered(false)
				)}{/if}
			{#if balances.length}{@render posts(
					'Stands at the end of each month on the balance',
					balances,
					offered(true)
				)}{/if}
		{/if}
		{#if kind === 'template' && chosen.byColumn.length}
			<p class="muted">Its cost goes to the account that stands in each {chosen.form.one}.</p>
		{/if}
		{#if others.length}
			<fieldset>
				<legend>Also in</legend>
				<div class="ways">
					{#each others as s (s.code)}<Tick value={s.code} bind:group={also}>{s.name}</Tick>{/each}
				</div>
			</fieldset>
		{/if}
	</div>
</Dialog>

<style>
	.form {
		display: grid;
		gap: 12px;
	}
	.ways {
		display: flex;
		flex-wrap: wrap;
		gap: 6px 16px;
		margin-bottom: 6px;
	}
	.two {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 12px;
	}
	.posts {
		display: grid;
		grid-template-columns: 150px 1fr;
		gap: 4px 10px;
		align-items: center;
	}
</style>
