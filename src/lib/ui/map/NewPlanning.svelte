<script lang="ts">
	import { untrack } from 'svelte';
	import type { Account } from '../../core/company/schema';
	import type { MapRow, PlanningRow } from '../../core/views/map-row';
	import { ApiError, post } from '../kit/api';
	import Dialog from '../kit/Dialog.svelte';
	import Choice from '../kit/form/Choice.svelte';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';
	import Select from '../kit/form/Select.svelte';
	import { Growing } from '../kit/rows/growing.svelte';
	import Listing from '../kit/Listing.svelte';
	import Segments from '../kit/Segments.svelte';
	import { counted } from '../writing/count';

	/** Makes planning accounts for ledger accounts: one that takes them all, or for each its own. */
	type Ledger = Pick<MapRow, 'code' | 'name' | 'account' | 'suggestion'>;
	interface Props {
		ledgers: readonly Ledger[];
		planning: readonly PlanningRow[];
		/** The heading to begin with; null: the one that each suggests. */
		heading: string | null;
		each: boolean;
		/** The ledger account is in a file that is not loaded yet: it is mapped when that is. */
		later?: boolean;
		ondone: (made: Account[]) => void;
		onclose: () => void;
	}
	let { ledgers, planning, heading, each, later = false, ondone, onclose }: Props = $props();
	const made = (accounts: object[]): Promise<Account[]> => {
		if (!later) return post('map/new', { accounts });
		const [{ code }] = ledgers;
		const free = /\d/.test(code) && !planning.some((p) => p.code === code);
		return post('accounts', { parent: under, outline: free ? `${code} ${name.trim()}` : name.trim() });
	};
	const headings = $derived(planning.filter((p) => !p.leaf));
	const indented = (p: PlanningRow) => `${'\u2003'.repeat(p.depth)}${p.name}`;
	const headingOf = (account: string | null | undefined) =>
		planning.find((p) => p.code === account)?.parent ?? null;
	/** Where it is suggested to be, or is. */
	const likely = (l: Ledger) => headingOf(l.suggestion?.account ?? l.account) ?? '';
	let mode = $state<'one' | 'each'>(untrack(() => (each ? 'each' : 'one')));
	let name = $state(untrack(() => (ledgers.length === 1 ? ledgers[0].name : '')));
	let under = $state(untrack(() => heading ?? likely(ledgers[0])));
	const places = $state(
		untrack(() => Object.fromEntries(ledgers.map((l) => [l.code, heading ?? likely(l)])))
	);
	let problem = $state('');
	let busy = $state(false);
	const growing = new Growing(untrack(() => ledgers.length));

	async function make() {
		const homeless = ledgers.find((l) => !places[l.code]);
		if (mode === 'one' && !name.trim()) problem = 'Give the new account a name.';
		else if (mode === 'one' ? !under : homeless)
			problem = `Choose the heading that ${mode === 'one' ? 'it' : `${homeless!.code} ${homeless!.name}`} lies under.`;
		else {
			busy = true;
			try {
				const accounts =
					mode === 'one'
						? [{ name: name.trim(), heading: under, ledgers: ledgers.map((l) => l.code) }]
						: ledgers.map((l) => ({ name: l.name || l.code, heading: places[l.code], ledgers: [l.code] }));
				ondone(await made(accounts));
			} catch (e) {
				problem = e instanceof ApiError ? e.message : 'The server could not be reached; nothing was made.';
			}
			busy = false;
		}
	}
</script>

<Dialog
	title={mode === 'one' ? 'A new planning account' : 'A planning account for each'}
	action={mode === 'one' || ledgers.length === 1 ? 'Make it' : `Make ${ledgers.length}`}
	size="md"
	disabled={busy}
	{problem}
	onaction={() => void make()}
	{onclose}
>
	{#if ledgers.length > 1}
		<Segments
			label="How many"
			choices={[
				{ key: 'one', name: `one for all ${ledgers.length}` },
				{ key: 'each', name: 'one for each' }
			]}
			chosen={mode}
			onchoose={(key) => (mode = key)}
		/>
	{/if}
	{#if mode === 'one'}
		<div>
			<Label for="planning-name">Name</Label>
			<Input
				id="planning-name"
				maxlength={120}
				autocomplete="off"
				bind:value={name}
				onkeydown={(event: KeyboardEvent) => {
					if (event.key === 'Enter') void make();
				}}
			/>
		</div>
		<div>
			<Label for="planning-heading">Lies under</Label>
			<Select
				id="planning-heading"
				placeholder=""
				items={[
					{ value: '', name: 'choose a heading' },
					...headings.map((h) => ({ value: h.code, name: indented(h) }))
				]}
				bind:value={under}
			/>
		</div>
		<p class="muted">
			It takes in {ledgers.length === 1
				? `${ledgers[0].code} ${ledgers[0].name}`
				: counted(ledgers.length, 'ledger account')}, with what is in {later
				? 'the file'
				: 'the ledger of all months'}.
		</p>
	{:else}
		<div class="list">
			<Listing>
				<thead><tr><th>Ledger account</th><th>Its own lies under</th></tr></thead>
				<tbody>
					{#each ledgers.slice(0, growing.most) as l (l.code)}
						<tr
							><td>{l.code} {l.name}</td><td
								><Choice aria-label="Heading for {l.code}" bind:value={places[l.code]}>
									<option value="">choose a heading</option>
									{#each headings as h (h.code)}<option value={h.code}>{indented(h)}</option>{/each}
								</Choice></td
							></tr
						>
					{/each}
					{#if ledgers.length > growing.most}<tr {@attach growing.end}
							><td colspan="2" class="muted">{ledgers.length - growing.most} more …</td></tr
						>{/if}
				</tbody>
			</Listing>
		</div>
		<p class="muted">Each keeps the name and the code that it has in the ledger.</p>
	{/if}
</Dialog>

<style>
	.list {
		max-height: 50vh;
		overflow: auto;
	}
</style>
