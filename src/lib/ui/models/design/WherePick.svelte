<script lang="ts">
	import { choosable, type DesignDimension } from './design';
	import { omit } from '../../design/lists';
	import Choice from '../../kit/form/Choice.svelte';

	/** Members that something is limited to, one choice a dimension. */
	interface Props {
		dimensions: readonly DesignDimension[];
		where: Readonly<Record<string, string>>;
		/** What it is about, for those who cannot see where it stands. */
		about: string;
		disabled?: boolean;
		onchange: (where: Record<string, string>) => void;
	}
	let { dimensions, where, about, disabled = false, onchange }: Props = $props();

	function pick(dimension: string, member: string) {
		const rest = omit(where as Record<string, string>, dimension);
		onchange(member ? { ...rest, [dimension]: member } : rest);
	}
</script>

{#each dimensions as d (d.code)}
	<Choice
		style="max-width: 170px"
		aria-label="{d.name} of {about}"
		{disabled}
		value={where[d.code] ?? ''}
		onpick={(v) => pick(d.code, v)}
	>
		<option value="">every {d.name.toLowerCase()}</option>
		{#each choosable(d.members, [where[d.code]]) as m (m.code)}<option value={m.code}
				>{'\u00a0\u00a0'.repeat(m.depth)}{m.name}</option
			>{/each}
	</Choice>
{/each}
