<script lang="ts">
	import { useModules } from '../kit/modules';
	import { digits } from '../writing/count';
	import type { Calendar } from '../../core/calendar/calendar';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';
	import Radio from '../kit/form/Radio.svelte';
	import Select from '../kit/form/Select.svelte';
	import { onMount, untrack } from 'svelte';
	import type { NumberFormat } from '../../core/company/schema';
	import type { Profile } from '../../core/inputs/schema';
	import { profileWeights, shapeOfYear } from '../../core/inputs/profile';
	import { changedTotal, type Change, type SpreadMethod } from '../../core/inputs/spread';
	import { inTotal, spreadAcross } from '../../core/inputs/spread-across';
	import { ApiError, get, post } from '../kit/api';
	import { useCompany } from '../shell/company';
	import Dialog from '../kit/Dialog.svelte';
	import type { Edit } from '../grid/editing/edits.svelte';
	import { exact, readFigure } from '../writing/format';
	import type { SpreadCellView, SpreadRow } from './spread';
	import Field from '../kit/form/Field.svelte';
	import Listing from '../kit/Listing.svelte';
	import TextButton from '../kit/form/TextButton.svelte';

	/** Turns a total that was typed into the cells under it, with a preview. */
	interface Props {
		title: string;
		/** What was typed into the total; null asks for it. */
		typed: number | null;
		rows: readonly SpreadRow[];
		format: NumberFormat;
		/** Entry precision. */
		decimals: number;
		/** In whose periods the cells stand. */
		calendar: Calendar;
		/** Something to know before: what lies over the cells. */
		hint?: string;
		/** Scenarios whose shape can be taken. */
		scenarios: readonly { code: string; name: string }[];
		/** The same cells in another scenario. */
		shapeOf: (scenario: string) => Promise<(number | null)[][]>;
		onapply: (edits: Edit[]) => void;
		onclose: () => void;
	}
	let {
		title,
		typed,
		rows,
		format,
		decimals,
		calendar,
		hint = '',
		scenarios,
		shapeOf,
		onapply,
		onclose
	}: Props = $props();
	let kind: Change['kind'] = $state('to');
	let text = $state(untrack(() => (typed === null ? '' : exact(typed, format))));
	let how = $state('proportion');
	let shape: (number | null)[][] | null = $state(null);
	let shapeProblem = $state('');
	let held: Record<string, boolean> = $state({});

	const MOST_SHOWN = 60;
	const keyOf = (r: number, c: number) => `${r}/${c}`;
	const cells = $derived(
		rows.flatMap((row, r) =>
			row.cells.map((cell, c) => ({
				value: cell.value,
				held: !cell.open || held[keyOf(r, c)] === true,
				factor: cell.factor ?? 1
			}))
		)
	);
	const amount = $derived.by(() => {
		if (kind !== 'percent') return readFigure(text, format);
		const share = readFigure(text, 'percent');
		return share;
	});
	const change: Change | null = $derived.by(() => {
		if (amount === undefined || amount === null) return null;
		if (kind === 'to') return { kind, total: amount };
		return kind === 'by' ? { kind, amount } : { kind, share: amount };
	});
	const company = useCompany();
	let profiles: Profile[] = $state([]);
	const PROFILE = '@profile/';
	const periods = $derived((rows[0]?.cells ?? []).map((c) => calendar.parse(c.column)!));
	const figures = $derived(rows.map((row) => row.cells.map((c) => c.value)));
	onMount(async () => {
		try {
			({ profiles } = await get<{ profiles: Profile[] }>('profiles'));
		} catch {
			// Without them the other ways are there.
		}
	});
	/** The year's shape of what stands in the cells: it can be kept. */
	const year = $derived(shapeOfYear(figures, periods, calendar, company.calendar));
	const isOn = useModules();
	let keeping: string | null = $state(null);
	let kept = $state('');
	async function keep() {
		if (!year || !keeping?.trim()) return;
		try {
			const profile = { code: null, name: keeping.trim(), weights: year };
			const { code } = await post<{ code: string }>('profiles', profile);
			profiles = [...profiles, { ...profile, code }];
			kept = `“${profile.name}” is kept.`;
			keeping = null;
		} catch (e) {
			kept = e instanceof ApiError ? e.message : 'The profile was not kept.';
		}
	}
	const method: SpreadMethod | null = $derived.by(() => {
		if (how === 'proportion' || how === 'evenly') return { kind: how };
		if (how.startsWith(PROFILE)) {
			const profile = profiles.find((p) => `${PROFILE}${p.code}` === how);
			if (!profile) return null;
			return {
				kind: 'weights',
				weights: profileWeights(figures, periods, profile.weights, calendar, company.calendar)
			};
		}
		return shape ? { kind: 'weights', weights: shape.flat().map((v) => v ?? 0) } : null;
	});
	const now = $derived(cells.reduce((s, c) => s + (c.value ?? 0) * c.factor, 0));
	const total = $derived(change ? changedTotal(inTotal(cells), change) : null);
	const result = $derived(total === null || !method ? null : spreadAcross(cells, total, method, decimals));
	/** As each cell counts, and as the total does. */
	const own = $derived(result?.ok ? result.values : null);
	const values = $derived(own && own.map((v, i) => v * cells[i].factor));
	const worth = ({ value, factor = 1 }: SpreadCellView) => (value === null ? null : value * factor);
	const at = (r: number, c: number) => r * (rows[0]?.cells.length ?? 0) + c;
	const rowTotal = (r: number) => rows[r].cells.reduce((s, _, c) => s + (values?.[at(r, c)] ?? 0), 0);
	const problem = $derived(result && !result.ok ? result.message : shapeProblem);
	const figure = (v: number | null) => (v === null ? '' : exact(v, format));

	async function choose() {
		shape = null;
		shapeProblem = '';
		if (how === 'proportion' || how === 'evenly' || how.startsWith(PROFILE)) return;
		const asked = how;
		try {
			const found = await shapeOf(asked);
			if (asked === how) shape = found;
		} catch {
			shapeProblem = 'The figures of that scenario cannot be read here.';
		}
	}
	function apply() {
		if (!own) return;
		const edits = rows.flatMap((row, r) =>
			row.cells.flatMap((cell, c): Edit[] => {
				const value = own[at(r, c)];
				// A blank that gets nothing stays blank.
				const same = value === (cell.value ?? 0);
				return !cell.open || same ? [] : [{ row: row.key, column: cell.column, before: cell.before, value }];
			})
		);
		onapply(edits);
		onclose();
	}
</script>

<Dialog
	{title}
	action="Spread"
	size={(rows[0]?.cells.length ?? 0) > 7 ? 'xl' : 'lg'}
	disabled={!values}
	{problem}
	onaction={apply}
	{onclose}
>
	<div class="fields">
		<fieldset>
			<legend>Change</legend>
			<Radio name="change" value="to" bind:group={kind}>to a total of</Radio>
			<Radio name="change" value="by" bind:group={kind}>by an amount</Radio>
			<Radio name="change" value="percent" bind:group={kind}>by a percentage</Radio>
		</fieldset>
		<div>
			<Label for="amount"
				>{kind === 'to' ? 'Total' : kind === 'by' ? 'Amount, − for less' : 'Percent, − for less'}</Label
			>
			<Input id="amount" bind:value={text} />
			<Label for="how">How</Label>
			<Select
				id="how"
				bind:value={how}
				onchange={choose}
				items={[
					{ value: 'proportion', name: 'In proportion to what is there' },
					{ value: 'evenly', name: 'Evenly' },
					...profiles.map((p) => ({ value: `${PROFILE}${p.code}`, name: `By the profile ${p.name}` })),
					...scenarios.map((s) => ({ value: s.code, name: `In the shape of ${s.name}` }))
				]}
			/>
		</div>
	</div>
	{#if hint}<p class="hint">{hint}</p>{/if}
	{#if total !== null && values}
		{@const count = cells.filter((c) => !c.held).length}
		<p class="sum">
			<b>{figure(now)} → {figure(values.reduce((a, b) => a + b, 0))}</b>
			<span class="muted"
				>over {count === 1 ? 'one cell' : `${digits(count)} cells`}. Press a cell to hold it.</span
			>
		</p>
	{/if}
	{#if result && !result.ok && result.evenly}
		<TextButton onclick={() => (how = 'evenly')}>Spread evenly</TextButton>
	{/if}
	{#if year && company.data.may['change driver models']}
		<p class="keep">
			{#if !isOn('seasonality')}<!-- Nothing is kept. -->{:else if keeping === null}
				<TextButton onclick={() => ((keeping = ''), (kept = ''))}
					>Keep the shape of these {calendar.words.many} as a profile …</TextButton
				>
			{:else}
				<label
					>Name of the profile
					<Field
						bind:value={keeping}
						maxlength={80}
						{@attach (node) => node.focus()}
						onkeydown={(e) => {
							if (e.key !== 'Enter') return;
							e.preventDefault();
							void keep();
						}}
					/></label
				>
				<TextButton disabled={!keeping.trim()} onclick={keep}>Keep</TextButton>
				<TextButton onclick={() => (keeping = null)}>Do not keep</TextButton>
			{/if}
			<span role="status">{kept}</span>
		</p>
	{/if}
	<div class="cells" class:several={(rows[0]?.cells.length ?? 0) > 1}>
		<Listing bare>
			<thead>
				<tr>
					<th></th>
					{#each rows[0]?.cells ?? [] as cell (cell.column)}<th>{cell.label}</th>{/each}
					{#if (rows[0]?.cells.length ?? 0) > 1}<th>Total</th>{/if}
				</tr>
			</thead>
			<tbody>
				{#each rows.slice(0, MOST_SHOWN) as row, r (row.key)}
					<tr>
						<th scope="row">{row.name}</th>
						{#each row.cells as cell, c (cell.column)}
							{@const value = values?.[at(r, c)] ?? worth(cell)}
							<td>
								{#if cell.open}
									<button
										type="button"
										aria-pressed={held[keyOf(r, c)] === true}
										aria-label="{row.name}, {cell.label}: {figure(value)}{held[keyOf(r, c)] ? ', held' : ''}"
										class:changed={own !== null && own[at(r, c)] !== (cell.value ?? 0)}
										onclick={() => (held[keyOf(r, c)] = !held[keyOf(r, c)])}>{figure(value)}</button
									>
								{:else}<span class="muted">{figure(worth(cell))}</span>{/if}
							</td>
						{/each}
						{#if row.cells.length > 1}<td><b>{figure(rowTotal(r))}</b></td>{/if}
					</tr>
				{/each}
			</tbody>
		</Listing>
	</div>
	{#if rows.length > MOST_SHOWN}<p class="muted">and {rows.length - MOST_SHOWN} rows more</p>{/if}
</Dialog>

<style>
	.fields {
		display: grid;
		grid-template-columns: 200px 1fr;
		gap: 24px;
		margin-bottom: 10px;
	}
	fieldset {
		display: grid;
		gap: 6px;
		align-content: start;
	}
	legend {
		color: var(--ink-2);
		margin-bottom: 4px;
	}
	.hint {
		color: var(--timber);
		margin: 6px 0;
	}
	.sum {
		margin: 8px 0;
	}
	.keep {
		display: flex;
		gap: 12px;
		align-items: center;
		margin: 6px 0;
		font-size: 12.5px;
	}
	.cells {
		max-height: 300px;
		overflow: auto;
		border: 1px solid var(--rule-strong);
	}
	.cells {
		font-size: 12.5px;
	}
	thead th {
		position: sticky;
		top: 0;
		background: var(--ground);
		font-weight: 400;
		color: var(--ink-2);
	}
	th,
	td {
		padding: 1px 6px;
		text-align: right;
		white-space: nowrap;
	}
	/* Totals stay in sight beside the months. */
	.several :is(td, th):last-child {
		position: sticky;
		right: 0;
		background: var(--sheet);
	}
	.several thead th:last-child {
		background: var(--ground);
		z-index: 1;
	}
	th[scope='row'] {
		text-align: left;
		font-weight: 400;
		position: sticky;
		left: 0;
		background: var(--sheet);
	}
	td button {
		padding: 2px 4px;
		border: 1px solid transparent;
		border-radius: 4px;
		font: inherit;
		min-width: 44px;
		text-align: right;
	}
	td button.changed {
		color: var(--plum);
		font-style: italic;
	}
	td button[aria-pressed='true'] {
		border-color: var(--timber);
		background: var(--ground);
		font-style: normal;
		font-weight: 600;
	}
</style>
