<script lang="ts">
	import IconButton from '../kit/form/IconButton.svelte';
	import Tick from '../kit/form/Tick.svelte';
	import Label from '../kit/form/Label.svelte';
	import Radio from '../kit/form/Radio.svelte';
	import Select from '../kit/form/Select.svelte';
	import { ArrowDownOutline, ArrowUpOutline } from 'flowbite-svelte-icons';
	import { untrack } from 'svelte';
	import type { PeriodWords } from '../../core/calendar/calendar';
	import { EACH_ROW, LINES, type Arrangement } from '../../core/views/arrangement';
	import type { Line } from '../../core/blocks/driver-model/schema';
	import Dialog from '../kit/Dialog.svelte';
	import Listing from '../kit/Listing.svelte';
	import Choice from '../kit/form/Choice.svelte';

	/** What stands on rows, in which order, and what across. */
	interface Props {
		arrangement: Arrangement;
		/** What the model’s periods are called. */
		words: PeriodWords;
		dimensions: readonly {
			code: string;
			name: string;
			attributes: readonly { code: string; values: readonly string[] }[];
		}[];
		lines: readonly Line[];
		onarrange: (wanted: { rows: string[]; across: string | null; lines: string[] }) => void;
		/** Filters by an attribute of members. */
		onfilter: (key: string, value: string) => void;
		onclose: () => void;
	}
	let { arrangement, words, dimensions, lines, onarrange, onfilter, onclose }: Props = $props();

	type Place = 'rows' | 'across' | 'summed';
	const listed = untrack(() => arrangement.rows.includes(EACH_ROW));
	let way = $state(listed ? 'list' : 'tree');
	let axes = $state(
		untrack(() => {
			const names = new Map([[LINES, 'Lines'], ...dimensions.map((d) => [d.code, d.name] as const)]);
			const placeOf = (axis: string): Place =>
				arrangement.across === axis
					? 'across'
					: listed || arrangement.rows.includes(axis)
						? 'rows'
						: 'summed';
			const order = (axis: string) => {
				const at = arrangement.rows.indexOf(axis);
				return at < 0 ? 99 : at;
			};
			return [...names]
				.map(([axis, name]) => ({ axis, name, place: placeOf(axis) }))
				.sort((a, b) => order(a.axis) - order(b.axis));
		})
	);
	let shown: string[] = $state(
		untrack(() => (arrangement.lines.length ? [...arrangement.lines] : lines.map((l) => l.code)))
	);
	const attributes = $derived(
		dimensions.flatMap((d) =>
			d.attributes
				.filter((a) => a.values.length > 1)
				.map((a) => ({ key: `${d.code}.${a.code}`, name: `${d.name}: ${a.code}`, values: a.values }))
		)
	);
	let attribute = $state('');
	let value = $state('');

	function move(i: number, by: number) {
		const list = [...axes];
		const [one] = list.splice(i, 1);
		list.splice(i + by, 0, one);
		axes = list;
	}
	function place(i: number, to: Place) {
		axes = axes.map((a, j) => ({
			...a,
			// Only one axis stands across; lines are always somewhere.
			place: j === i ? to : to === 'across' && a.place === 'across' ? 'rows' : a.place
		}));
	}
	function apply() {
		const across = axes.find((a) => a.place === 'across')?.axis ?? null;
		const rows =
			way === 'list'
				? [...(across === LINES ? [] : [LINES]), EACH_ROW]
				: axes.filter((a) => a.place === 'rows').map((a) => a.axis);
		onarrange({ rows, across, lines: shown.length === lines.length ? [] : $state.snapshot(shown) });
		if (attribute && value) onfilter(attribute, value);
		onclose();
	}
</script>

<Dialog title="Arrange" action="Show" size="md" disabled={!shown.length} onaction={apply} {onclose}>
	<fieldset>
		<legend>Rows</legend>
		<Radio name="way" value="list" bind:group={way}>every row by its full name</Radio>
		<Radio name="way" value="tree" bind:group={way}>nested, with subtotals</Radio>
	</fieldset>
	<Listing bare class="mb-3.5">
		<tbody>
			{#each axes as a, i (a.axis)}
				<tr>
					<th scope="row">{a.name}</th>
					<td>
						<Choice
							style="min-width: 200px"
							aria-label="Where {a.name} stand"
							value={a.place}
							onpick={(v) => place(i, v as Place)}
						>
							<option value="rows">{way === 'list' ? 'in the list' : 'on rows'}</option>
							<option value="across">across, over the {words.many}</option>
							{#if a.axis !== LINES && way === 'tree'}<option value="summed">summed</option>{/if}
						</Choice>
					</td>
					<td class="moves">
						{#if way === 'tree'}
							<IconButton disabled={i === 0} label="Move {a.name} outwards" onclick={() => move(i, -1)}
								><ArrowUpOutline class="h-3 w-3" /></IconButton
							>
							<IconButton
								disabled={i === axes.length - 1}
								label="Move {a.name} inwards"
								onclick={() => move(i, 1)}><ArrowDownOutline class="h-3 w-3" /></IconButton
							>
						{/if}
					</td>
				</tr>
			{/each}
		</tbody>
	</Listing>
	<fieldset>
		<legend>Lines shown</legend>
		<div class="lines">
			{#each lines as line (line.code)}
				<Tick value={line.code} bind:group={shown}>{line.label}</Tick>
			{/each}
		</div>
	</fieldset>
	{#if attributes.length}
		<div class="attribute">
			<div>
				<Label for="attribute">Only members with</Label>
				<Select
					id="attribute"
					bind:value={attribute}
					placeholder="any attribute"
					onchange={() => (value = '')}
					items={attributes.map((a) => ({ value: a.key, name: a.name }))}
				/>
			</div>
			<div>
				<Label for="attribute-value">being</Label>
				<Select
					id="attribute-value"
					bind:value
					placeholder="anything"
					disabled={!attribute}
					items={(attributes.find((a) => a.key === attribute)?.values ?? []).map((v) => ({
						value: v,
						name: v
					}))}
				/>
			</div>
		</div>
	{/if}
</Dialog>

<style>
	fieldset {
		display: grid;
		gap: 6px;
		margin-bottom: 12px;
	}
	legend {
		color: var(--ink-2);
		margin-bottom: 4px;
	}
	td {
		padding: 2px 0;
	}
	th {
		text-align: left;
		font-weight: 600;
		padding: 3px 20px 3px 0;
		min-width: 110px;
	}
	.moves {
		padding-left: 10px;
		white-space: nowrap;
	}
	.lines {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 6px 20px;
	}
	.attribute {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 16px;
	}
</style>
