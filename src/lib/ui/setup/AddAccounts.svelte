<script lang="ts">
	import { untrack } from 'svelte';
	import type { Account, AccountType } from '../../core/company/schema';
	import type { ChartRow } from '../../core/views/chart-row';
	import TreeList from '../founding/TreeList.svelte';
	import { ApiError, post, type Fault } from '../kit/api';
	import Dialog from '../kit/Dialog.svelte';
	import Faults from '../kit/Faults.svelte';
	import Label from '../kit/form/Label.svelte';
	import Select from '../kit/form/Select.svelte';
	import Textarea from '../kit/form/Textarea.svelte';
	import { Newest } from '../kit/newest';
	import { counted } from '../writing/count';
	import { nameIn, TYPES } from './account-words';

	/** Adds one account or many under a heading; how they will stand is shown while they are typed. */
	interface Props {
		/** Null is the top. */
		heading: ChartRow | null;
		ondone: (made: Account[]) => void;
		onclose: () => void;
	}
	let { heading, ondone, onclose }: Props = $props();
	const EXAMPLE = '6490 Security\nVehicles\n  6491 Fuel\n  6492 Repairs';
	let outline = $state('');
	let type = $state<AccountType>(untrack(() => heading?.type ?? 'expense'));
	let shown = $state.raw<Account[]>([]);
	let problem = $state.raw<{ message: string; faults: Fault[] } | null>(null);
	let busy = $state(false);
	const newest = new Newest();
	const asked = $derived({ parent: heading?.code ?? null, outline, type });

	$effect(() => {
		const now = asked;
		untrack(() => {
			newest.drop();
			if (now.outline.trim())
				newest.run(() => ask({ ...now, dry: true }).then((made) => void (shown = made)));
			else [shown, problem] = [[], null];
		});
	});
	async function ask(wanted: object): Promise<Account[]> {
		try {
			const made = await post<Account[]>('accounts', wanted);
			problem = null;
			return made;
		} catch (e) {
			if (!(e instanceof ApiError)) throw e;
			problem = { message: e.message, faults: e.faults };
			return [];
		}
	}
	async function add() {
		if (!outline.trim()) {
			problem = { message: 'Name at least one account.', faults: [] };
			return;
		}
		busy = true;
		const made = await ask(asked);
		busy = false;
		if (made.length) ondone(made);
	}
	const tree = $derived(
		shown.map((a) => ({ ...a, parent: shown.some((s) => s.code === a.parent) ? a.parent : null }))
	);
</script>

<Dialog
	title={heading ? `Add under ${heading.name}` : 'Add at the top'}
	action={shown.length > 1 ? `Add ${shown.length}` : 'Add'}
	size="lg"
	disabled={busy}
	onaction={add}
	{onclose}
>
	<div class="two">
		<div>
			<Label for="new-accounts">One a line; a code may stand before the name</Label>
			<Textarea id="new-accounts" rows={10} bind:value={outline} placeholder={EXAMPLE} />
		</div>
		<div>
			<Label for="new-type">They are</Label>
			<Select placeholder="" id="new-type" items={TYPES} bind:value={type} />
			{#if shown.length}
				<div class="shown">
					<TreeList
						label="Accounts as they will stand"
						items={tree}
						note={(a, leaf) => (leaf ? a.code : '')}
					/>
					<p class="muted">{counted(shown.length, nameIn(TYPES, type).toLowerCase() + ' account')}.</p>
				</div>
			{:else if !problem}
				<p class="muted">
					A list can be pasted from a spreadsheet; what is indented lies under what stands above it.
				</p>
			{/if}
			{#if problem}<Faults message={problem.message} faults={problem.faults} />{/if}
		</div>
	</div>
</Dialog>

<style>
	.two {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 10px 20px;
	}
	.two > div {
		display: grid;
		align-content: start;
		gap: 8px;
	}
</style>
