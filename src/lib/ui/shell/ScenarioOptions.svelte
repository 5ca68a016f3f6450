<!-- Scenarios to choose from in a list: those in no folder first, then folder by folder. -->
<script lang="ts">
	import { group } from 'd3';
	import type { FrameData } from './company';

	interface Props {
		scenarios: FrameData['scenarios'];
	}
	let { scenarios }: Props = $props();
	const folders = $derived([...group(scenarios, (s) => s.folder)].sort(([a], [b]) => a.localeCompare(b)));
	const nameOf = (s: Props['scenarios'][number]) =>
		s.locked && s.kind !== 'actuals' ? `${s.name} (locked)` : s.name;
</script>

{#each folders as [folder, list] (folder)}
	{#if folder === ''}
		{#each list as s (s.code)}<option value={s.code}>{nameOf(s)}</option>{/each}
	{:else}
		<optgroup label={folder}>
			{#each list as s (s.code)}<option value={s.code}>{nameOf(s)}</option>{/each}
		</optgroup>
	{/if}
{/each}
