<script lang="ts">
	import { personalIn } from '$lib/core/blocks/schedule/personal';
	import type { ScheduleColumn, ScheduleDefinition, ScheduleLine } from '$lib/core/blocks/schedule/schema';
	import Tick from '../../kit/form/Tick.svelte';

	/** Whether a column or a line tells what single people earn, of itself or by what it is made of. */
	interface Props {
		definition: ScheduleDefinition;
		own: ScheduleColumn | ScheduleLine;
		disabled: boolean;
		onchange: (personal: true | undefined) => void;
	}
	let { definition, own, disabled, onchange }: Props = $props();
	const by = $derived(personalIn([definition]).get(definition.code)?.has(own.code) && !own.personal);
</script>

<Tick {disabled} bind:checked={() => own.personal ?? false, (v) => onchange(v || undefined)}
	>tells what single people earn: only who sees individual pay sees it</Tick
>
{#if by}<p class="muted">
		It is made of something that does, so it is seen by the same people, ticked or not.
	</p>{/if}
