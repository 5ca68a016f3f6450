<script lang="ts">
	import type { Member } from '../../../core/company/schema';
	import { post } from '../../kit/api';
	import LoadList from '../../setup/LoadList.svelte';
	import { counted } from '../../writing/count';

	/** Adds and changes members of a dimension from a list. */
	interface Change {
		before: Member | null;
		after: Member;
	}
	interface Props {
		dimension: { code: string; name: string; attributes: readonly string[] };
		/** Told how many were added or changed. */
		ondone: (count: number) => void;
		onclose: () => void;
	}
	let { dimension, ondone, onclose }: Props = $props();
	const headings = $derived(['code', 'name', 'parent', ...dimension.attributes]);
	const example = $derived(`${headings.join('\t')}\npetrel-15\tPetrel 15\tkayaks`);
	/** What of a member is other than before. */
	function words({ before, after }: Change): string {
		if (!before) return after.parent === null ? 'new' : `new, under ${after.parent}`;
		const changed = Object.keys({ ...before.attributes, ...after.attributes }).filter(
			(a) => before.attributes[a] !== after.attributes[a]
		);
		return [
			...(before.name === after.name ? [] : [`was ${before.name}`]),
			...(before.retired === after.retired ? [] : [after.retired ? 'is retired' : 'is offered again']),
			...(before.parent === after.parent ? [] : [`goes under ${after.parent ?? 'nothing'}`]),
			...changed.map((a) => `${a} ${after.attributes[a]}`)
		].join(', ');
	}
</script>

<LoadList
	title="Load {dimension.name.toLowerCase()} members"
	label="Headings first: name, and if wanted code, parent and attributes"
	{example}
	ask={(text, dry) =>
		post<{ read: number; changes: Change[] }>(`dimensions/${dimension.code}/members/import`, { text, dry })}
	{ondone}
	{onclose}
	says={(changes) => {
		const fresh = changes.filter((c) => !c.before).length;
		return `${counted(fresh, 'new member')}, ${changes.length - fresh} changed`;
	}}
>
	{#snippet hint()}
		Who has the code of one that is there changes it; others are added. A cell that is left empty stays as it
		is, and members that are not in the list stay. Other headings are attributes.
	{/snippet}
	{#snippet change(c: Change)}<span>{c.after.name}</span><span class="muted">{words(c)}</span>{/snippet}
</LoadList>
