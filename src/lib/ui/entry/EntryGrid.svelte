<script lang="ts" generics="B, S extends Spread">
	import type { ComponentProps, Snippet } from 'svelte';
	import Grid from '../grid/Grid.svelte';
	import { notices } from '../kit/notices.svelte';
	import { useCompany } from '../shell/company';
	import Conflicts from './Conflicts.svelte';
	import type { Entry } from './entry.svelte';
	import { entryDecimals, LAST_YEAR, type Spread } from './spread';
	import SpreadDialog from './SpreadDialog.svelte';

	/** The grid of a page on which figures are typed, with the dialogs that go with typing. */
	type Own = 'calendar' | 'figures' | 'edits' | 'seeks' | 'onspread' | 'onfold' | 'onwindow' | 'onsay';
	type Props = Omit<ComponentProps<typeof Grid>, Own> & {
		entry: Entry<B, S>;
		editable: boolean;
		/** What is said below the grid. */
		children?: Snippet;
	};
	let { entry, editable, children, ...rest }: Props = $props();
	const company = useCompany();
	const selected = $derived(company.data.selection.scenario);
	const { edits, saving } = $derived(entry);
</script>

<Grid
	{...rest}
	bind:this={entry.grid}
	calendar={entry.calendar}
	figures={company.data.figures}
	edits={editable ? edits : undefined}
	seeks
	onspread={(chosen, typed) => void entry.spread(chosen, typed)}
	onfold={(span) => entry.folds.toggle(span)}
	onwindow={(span) => entry.show(span)}
	onsay={(words) => notices.say(words)}
/>
{@render children?.()}
{#if entry.spreading}
	{@const { title, typed, rows, hint, format } = entry.spreading}
	<SpreadDialog
		{title}
		{typed}
		{rows}
		{hint}
		{format}
		decimals={entryDecimals(format, rows, company.data.company.decimals)}
		calendar={entry.calendar}
		scenarios={[
			{ code: LAST_YEAR, name: 'last year' },
			...company.data.scenarios.filter((s) => s.code !== selected && s.kind !== 'actuals')
		]}
		shapeOf={(scenario) => entry.shapeOf(scenario)}
		onapply={(list) => edits.apply(list)}
		onclose={() => (entry.spreading = null)}
	/>
{/if}
<Conflicts
	bind:list={saving.conflicts}
	onkeep={() => saving.resolve(true)}
	ontake={() => saving.resolve(false)}
/>
