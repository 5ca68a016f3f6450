<script lang="ts">
	import type { Names } from '../../../core/formula/check';
	import type { Quantity } from '../../../core/formula/units';
	import {
		departmentColumn,
		type ScheduleDefinition,
		type ScheduleLine,
		type SchedulePosting
	} from '../../../core/blocks/schedule/schema';
	import FormulaField from '../../design/FormulaField.svelte';
	import Button from '../../kit/form/Button.svelte';
	import Choice from '../../kit/form/Choice.svelte';
	import Field from '../../kit/form/Field.svelte';
	import IconButton from '../../kit/form/IconButton.svelte';
	import PersonalTick from './PersonalTick.svelte';
	import Radio from '../../kit/form/Radio.svelte';
	import Tick from '../../kit/form/Tick.svelte';
	import { CloseOutline } from 'flowbite-svelte-icons';
	import { changed, targetFrom, targetText } from './design';
	import NameFields from './NameFields.svelte';

	/** All that makes a line, and where it is posted. */
	interface Props {
		definition: ScheduleDefinition;
		line: ScheduleLine;
		/** Those that take figures. */
		accounts: readonly { code: string; name: string }[];
		departments: readonly { code: string; name: string }[];
		names: Names;
		result: Quantity | undefined;
		/** What its periods are called. */
		words: { one: string; many: string };
		disabled: boolean;
		fresh: boolean;
		onchange: (line: ScheduleLine) => void;
		onrecode: (code: string, label: string) => void;
		onpost: (postings: SchedulePosting[]) => void;
	}
	let {
		definition,
		line,
		accounts,
		departments,
		names,
		result,
		words,
		disabled,
		fresh,
		onchange,
		onrecode,
		onpost
	}: Props = $props();
	const put = (more: { [K in keyof ScheduleLine]?: ScheduleLine[K] | undefined }) =>
		onchange(changed(line, more));
	const postings = $derived(definition.postings.filter((p) => p.line === line.code));
	const placed = $derived(departmentColumn(definition) !== undefined);
	const accountColumns = $derived(
		definition.columns.filter((c) => c.kind === 'account' && c.formula === undefined)
	);
	/** Attributes of members that each row names. */
	const attributes = $derived(
		definition.columns.flatMap((c) => {
			const of =
				c.kind === 'member' && c.required ? names.dimensions.find((d) => d.code === c.dimension) : null;
			return of?.attributes.length
				? [{ name: c.label.toLowerCase(), of: of.code, list: of.attributes.map((a) => a.code) }]
				: [];
		})
	);
	const FORMATS = [
		['money', 'money'],
		['number', 'number'],
		['price', 'price, with pence'],
		['percent', 'percent']
	] as const;
	const TIME = $derived([
		['sum', 'their sum'],
		['average', 'their average'],
		['last', `the last ${words.one}`]
	] as const);
	const EXTEND = [
		['year-ago', 'the values of a year ago'],
		['last', 'the last value again'],
		['blank', 'nothing']
	] as const;
	const source = {
		get way() {
			return line.formula === undefined ? 'typed' : 'calculated';
		},
		set way(way: string) {
			put({ formula: way === 'typed' ? undefined : (line.formula ?? '0') });
		}
	};
	const putPosting = (i: number, more: { [K in keyof SchedulePosting]?: SchedulePosting[K] | undefined }) =>
		onpost(postings.with(i, changed(postings[i], more)));
	function post() {
		const [account] = accountColumns;
		onpost([
			...postings,
			{
				line: line.code,
				account: account ? { column: account.code } : { code: accounts[0]?.code ?? '' },
				...(placed ? {} : { department: departments[0]?.code ?? '' })
			}
		]);
	}
</script>

<NameFields
	part={line}
	taken={[...definition.columns, ...definition.lines].filter((x) => x !== line).map((x) => x.code)}
	{fresh}
	stays
	{disabled}
	otherwise="line"
	onlabel={(label) => put({ label })}
	{onrecode}
/>
<div class="grid">
	<label
		>Unit
		<Field
			{disabled}
			placeholder="hours, pieces …"
			value={line.unit}
			oninput={(e) => put({ unit: e.currentTarget.value })}
		/></label
	>
	<label
		>Shown as
		<Choice {disabled} value={line.format} onpick={(v) => put({ format: v as ScheduleLine['format'] })}>
			{#each FORMATS as [value, name] (value)}<option {value}>{name}</option>{/each}
		</Choice></label
	>
</div>

<fieldset>
	<legend>Where its values come from</legend>
	<div class="ways">
		<Radio name="way" value="typed" {disabled} bind:group={source.way}
			>typed, {words.one} by {words.one}</Radio
		>
		<Radio name="way" value="calculated" {disabled} bind:group={source.way}>calculated</Radio>
	</div>
	{#if line.formula !== undefined}
		{#key line.code}
			<FormulaField
				bind:value={
					() => line.formula ?? '',
					(formula) => {
						if (formula !== line.formula) put({ formula });
					}
				}
				{names}
				{result}
				focuses={false}
				label="Formula of {line.label}"
			/>
		{/key}
	{/if}
</fieldset>

<fieldset>
	<legend>Totals and further {words.many}</legend>
	<div class="grid">
		<label
			>A quarter or a year is
			<Choice {disabled} value={line.time} onpick={(v) => put({ time: v as ScheduleLine['time'] })}>
				{#each TIME as [value, name] (value)}<option {value}>{name}</option>{/each}
			</Choice></label
		>
		{#if line.formula === undefined}
			<label
				>A longer forecast goes on with
				<Choice {disabled} value={line.extend} onpick={(v) => put({ extend: v as ScheduleLine['extend'] })}>
					{#each EXTEND as [value, name] (value)}<option {value}>{name}</option>{/each}
				</Choice></label
			>
		{/if}
	</div>
	<Tick {disabled} bind:checked={() => line.adds, (v) => put({ adds: v })}
		>rows add up{definition.divided ? ', and are divided by shares' : ''}; a rate or a factor does not</Tick
	>
	<PersonalTick {definition} own={line} {disabled} onchange={(personal) => put({ personal })} />
</fieldset>

{#snippet targets()}
	{#if accountColumns.length}
		<optgroup label="Named in the {definition.one}">
			{#each accountColumns as c (c.code)}<option value={c.code}>{c.label}</option>{/each}
		</optgroup>
	{/if}
	{#each attributes as { name, of, list } (name)}
		<optgroup label="By {name}">
			{#each list as a (a)}<option value="@{of}.{a}">{a} of its {name}</option>{/each}
		</optgroup>
	{/each}
	<optgroup label="Account">
		{#each accounts as a (a.code)}<option value="={a.code}">{a.code} {a.name}</option>{/each}
	</optgroup>
{/snippet}

<fieldset>
	<legend>Posted to{placed ? `, in the department of each ${definition.one}` : ''}</legend>
	{#each postings as posting, i (i)}
		{@const about = `posting ${i + 1} of ${line.label}`}
		<div class="posting">
			<Choice
				style="max-width: 92px"
				aria-label="Effect of {about}"
				{disabled}
				value={posting.lowers ? 'lowers' : 'raises'}
				onpick={(v) => putPosting(i, { lowers: v === 'lowers' ? true : undefined })}
			>
				<option value="raises">raises</option>
				<option value="lowers">lowers</option>
			</Choice>
			<Choice
				style="max-width: 300px"
				aria-label="Account of {about}"
				{disabled}
				value={targetText(posting.account)}
				onpick={(v) => putPosting(i, { account: targetFrom(v) })}
			>
				{@render targets()}
			</Choice>
			{#if !placed}
				<span>in</span>
				<Choice
					style="max-width: 220px"
					aria-label="Department of {about}"
					{disabled}
					value={posting.department ?? ''}
					onpick={(v) => putPosting(i, { department: v })}
				>
					{#each departments as d (d.code)}<option value={d.code}>{d.name}</option>{/each}
				</Choice>
			{/if}
			<IconButton {disabled} label="Remove {about}" onclick={() => onpost(postings.toSpliced(i, 1))}
				><CloseOutline class="h-3 w-3" /></IconButton
			>
			<label class="other"
				>other side
				<Choice
					style="max-width: 300px"
					aria-label="Other side of {about}"
					{disabled}
					value={posting.other ? targetText(posting.other) : ''}
					onpick={(v) => putPosting(i, { other: v === '' ? undefined : targetFrom(v) })}
				>
					<option value="">cash, which is worked out last</option>
					{@render targets()}
				</Choice></label
			>
		</div>
	{/each}
	{#if !disabled && line.adds}<Button quiet onclick={post}>Add a posting …</Button>{/if}
	{#if line.time === 'last' && postings.length}
		<p class="muted">
			On a balance it is what stands there at the end of each {words.one}; its other side takes what it
			changes by.
		</p>
	{/if}
	{#if !line.adds}<p class="muted">A line that does not add up is not posted.</p>{/if}
</fieldset>

<style>
	.posting {
		display: flex;
		flex-wrap: wrap;
		gap: 6px 8px;
		align-items: center;
		margin-bottom: 10px;
	}
	.other {
		display: flex;
		flex-basis: 100%;
		gap: 8px;
		align-items: center;
		padding-left: 100px;
		color: var(--ink-2);
	}
</style>
