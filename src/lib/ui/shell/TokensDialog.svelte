<script lang="ts">
	import { onMount } from 'svelte';
	import { ApiError, get, post, remove } from '../kit/api';
	import Dialog from '../kit/Dialog.svelte';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';
	import Select from '../kit/form/Select.svelte';
	import TextButton from '../kit/form/TextButton.svelte';
	import Listing from '../kit/Listing.svelte';
	import { moment } from '../writing/format';

	/** One's own access tokens: made, shown once, ended. */
	let { onclose }: { onclose: () => void } = $props();
	interface Kept {
		id: number;
		name: string;
		scope: 'read' | 'change';
		expires_at: number;
		used_at: number | null;
	}
	const SCOPES = [
		{ value: 'read', name: 'reads' },
		{ value: 'change', name: 'reads and changes' }
	] as const;
	const DAYS = [
		{ value: 30, name: '30 days' },
		{ value: 90, name: '90 days' },
		{ value: 365, name: 'a year' }
	];
	let tokens = $state.raw<Kept[]>([]);
	let name = $state('');
	let scope = $state<'read' | 'change'>('read');
	let days = $state(90);
	let made = $state('');
	let problem = $state('');
	let busy = $state(false);

	async function reread() {
		tokens = await get<Kept[]>('me/tokens');
	}
	/** Does something with the server and says what was wrong. */
	async function act(work: () => Promise<void>) {
		busy = true;
		problem = '';
		try {
			await work();
			await reread();
		} catch (e) {
			problem = e instanceof ApiError ? e.message : 'It was not changed.';
		}
		busy = false;
	}
	onMount(() => void act(async () => {}));
	const make = (event: SubmitEvent) => {
		event.preventDefault();
		return act(async () => {
			made = (await post<{ token: string }>('me/tokens', { name, scope, days })).token;
			name = '';
		});
	};
	const end = (id: number) => act(() => remove(`me/tokens/${id}`));
	const day = (time: number) => moment(new Date(time).toISOString()).replace(/,.*/, '');
</script>

<Dialog
	title="Access tokens"
	action="Make a token"
	form="token-form"
	size="md"
	leave="Done"
	disabled={busy}
	{problem}
	{onclose}
>
	<p class="muted">
		With one, a program asks the API as you, until a day. Whoever has it can do what it says with your rights.
	</p>
	{#if made}
		<div role="status">
			<p>This is the token. It is shown once: copy it now to where the program has it.</p>
			<p class="token">{made}</p>
		</div>
	{/if}
	{#if tokens.length}
		<Listing>
			<thead><tr><th>For</th><th>With it a program</th><th>Until</th><th>Last used</th><th></th></tr></thead>
			<tbody>
				{#each tokens as t (t.id)}
					<tr>
						<td>{t.name}</td>
						<td>{SCOPES.find((s) => s.value === t.scope)!.name}</td>
						<td>{day(t.expires_at)}</td>
						<td>{t.used_at === null ? 'never' : day(t.used_at)}</td>
						<td
							><TextButton onclick={() => end(t.id)}>end<span class="sr-only"> {t.name}</span></TextButton
							></td
						>
					</tr>
				{/each}
			</tbody>
		</Listing>
	{/if}
	<form id="token-form" onsubmit={make}>
		<div>
			<Label for="token-name">What it is for</Label>
			<Input id="token-name" required maxlength={80} autocomplete="off" bind:value={name} />
		</div>
		<div>
			<Label for="token-scope">With it a program</Label>
			<Select placeholder="" id="token-scope" items={SCOPES} bind:value={scope} />
		</div>
		<div>
			<Label for="token-days">It ends after</Label>
			<Select placeholder="" id="token-days" items={DAYS} bind:value={days} />
		</div>
	</form>
</Dialog>

<style>
	form {
		display: grid;
		grid-template-columns: 2fr 1fr 1fr;
		gap: 12px;
	}
	.token {
		font-family: var(--font-mono);
		font-size: 13px;
		overflow-wrap: anywhere;
		user-select: all;
		background: var(--tint);
		padding: 8px 10px;
	}
</style>
