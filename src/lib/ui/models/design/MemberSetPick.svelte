<script lang="ts">
	import type { MemberSet } from '../../../core/inputs/schema';
	import { choosable, type DesignDimension } from './design';
	import Choice from '../../kit/form/Choice.svelte';
	import Tick from '../../kit/form/Tick.svelte';

	/** Some subtrees of a dimension without others: a tree of members with ticks. */
	interface Props {
		dimensions: readonly DesignDimension[];
		set: MemberSet;
		label: string;
		onchange: (set: MemberSet) => void;
	}
	let { dimensions, set, label, onchange }: Props = $props();
	const dimension = $derived(dimensions.find((d) => d.code === set.dimension)!);
	/** Codes above each member, nearest first. */
	const above = $derived.by(() => {
		const path: string[] = [];
		return new Map(
			dimension.members.map((m) => {
				path.length = m.depth;
				const own = path.toReversed();
				path.push(m.code);
				return [m.code, own] as const;
			})
		);
	});
	const inSet = (code: string) => {
		for (const c of [code, ...above.get(code)!]) {
			if (set.except.includes(c)) return false;
			if (set.under.includes(c)) return true;
		}
		return false;
	};
	/** A tick takes a member with all under it; taking one out of a ticked group makes it an exception. */
	function toggle(code: string) {
		const under = (c: string) => c === code || above.get(c)!.includes(code);
		const rest = { under: set.under.filter((c) => !under(c)), except: set.except.filter((c) => !under(c)) };
		const ticked = inSet(code);
		const [parent] = above.get(code)!;
		const parentIn = parent !== undefined && inSet(parent);
		onchange({
			...set,
			under: !ticked && !parentIn ? [...rest.under, code] : rest.under,
			except: ticked && parentIn ? [...rest.except, code] : rest.except
		});
	}
</script>

<div class="set">
	<Choice
		aria-label="{label}, dimension"
		value={set.dimension}
		onpick={(v) => onchange({ dimension: v, under: [], except: [] })}
	>
		{#each dimensions as d (d.code)}<option value={d.code}>{d.name}</option>{/each}
	</Choice>
	<ul aria-label="{label}, members">
		{#each choosable(dimension.members, [...set.under, ...set.except]) as m (m.code)}
			<li style:padding-left="{6 + m.depth * 18}px">
				<Tick checked={inSet(m.code)} onpick={() => toggle(m.code)}>{m.name}</Tick>
			</li>
		{/each}
	</ul>
</div>

<style>
	.set {
		display: grid;
		gap: 6px;
		min-width: 0;
	}
	ul {
		border: 1px solid var(--rule);
		border-radius: 5px;
		max-height: 220px;
		overflow: auto;
		padding: 4px 0;
		background: var(--sheet);
	}
</style>
