<script lang="ts" module>
	export interface ConflictView {
		name: string;
		mine: string;
		theirs: string;
		user: string;
		at: string;
	}
</script>

<script lang="ts">
	import Dialog from '../kit/Dialog.svelte';
	import Button from '../kit/form/Button.svelte';
	import { moment } from '../writing/format';
	import Listing from '../kit/Listing.svelte';

	/** Cells that somebody else has changed meanwhile: both figures side by side, and a choice. */
	let {
		list = $bindable(),
		onkeep,
		ontake
	}: { list: ConflictView[]; onkeep: () => void; ontake: () => void } = $props();
</script>

{#if list.length}
	<Dialog
		title="Somebody else has changed {list.length === 1 ? 'this cell' : 'these cells'}"
		action="Keep mine and save"
		leave="Decide later"
		size="lg"
		onaction={onkeep}
		onclose={() => (list = [])}
	>
		<p>Nothing has been saved yet. Your figures are still in the grid.</p>
		<Listing>
			<thead>
				<tr><th>Cell</th><th class="num">Yours</th><th class="num">Theirs</th><th>By</th></tr>
			</thead>
			<tbody>
				{#each list as c (c.name)}
					<tr>
						<td>{c.name}</td>
						<td class="num">{c.mine}</td>
						<td class="num">{c.theirs}</td>
						<td>{c.user}{c.at ? `, ${moment(c.at)}` : ''}</td>
					</tr>
				{/each}
			</tbody>
		</Listing>
		{#snippet also()}<Button quiet size="md" onclick={ontake}>Take theirs</Button>{/snippet}
	</Dialog>
{/if}
