<script lang="ts">
	import { PLACING } from '$lib/core/blocks/schedule/personal';
	import PersonalTick from './PersonalTick.svelte';
	import type { Names } from '../../../core/formula/check';
	import type { Quantity } from '../../../core/formula/units';
	import type { ScheduleColumn, ScheduleDefinition } from '../../../core/blocks/schedule/schema';
	import FormulaField from '../../design/FormulaField.svelte';
	import Choice from '../../kit/form/Choice.svelte';
	import Field from '../../kit/form/Field.svelte';
	import Radio from '../../kit/form/Radio.svelte';
	import Textarea from '../../kit/form/Textarea.svelte';
	import Tick from '../../kit/form/Tick.svelte';
	import { asKind, changed, KINDS, limitFrom, usualFrom, usualText } from './design';
	import NameFields from './NameFields.svelte';

	/** All that makes a column. */
	interface Props {
		definition: ScheduleDefinition;
		column: ScheduleColumn;
		dimensions: readonly { code: string; name: string }[];
		schedules: readonly { code: string; name: string }[];
		names: Names;
		result: Quantity | undefined;
		disabled: boolean;
		/** Not saved yet, so that it is called after its label. */
		fresh: boolean;
		onchange: (column: ScheduleColumn) => void;
		onrecode: (code: string, label: string) => void;
	}
	let {
		definition,
		column,
		dimensions,
		schedules,
		names,
		result,
		disabled,
		fresh,
		onchange,
		onrecode
	}: Props = $props();
	const put = (more: { [K in keyof ScheduleColumn]?: ScheduleColumn[K] | undefined }) =>
		onchange(changed(column, more));
	const limited = $derived(['number', 'money', 'percent', 'date'].includes(column.kind));
	const counts = $derived(['number', 'money', 'percent'].includes(column.kind));
	const source = {
		get way() {
			return column.formula === undefined ? 'typed' : 'worked out';
		},
		set way(way: string) {
			if (way === 'typed') put({ formula: undefined });
			else put({ formula: column.formula ?? '0', required: false, default: undefined });
		}
	};
</script>

<NameFields
	part={column}
	taken={[...definition.columns, ...definition.lines].filter((x) => x !== column).map((x) => x.code)}
	{fresh}
	{disabled}
	otherwise="column"
	onlabel={(label) => put({ label })}
	{onrecode}
/>
<div class="grid">
	<label
		>Holds
		<Choice
			{disabled}
			value={column.kind}
			onpick={(v) => onchange(asKind(column, v as ScheduleColumn['kind']))}
		>
			{#each KINDS as [value, name] (value)}<option {value}>{name}</option>{/each}
		</Choice></label
	>
	{#if counts}
		<label
			>Unit
			<Field
				{disabled}
				placeholder={column.kind === 'money' ? 'per hour …' : 'months, hours …'}
				value={column.unit}
				oninput={(e) => put({ unit: e.currentTarget.value })}
			/></label
		>
	{/if}
	{#if column.kind === 'member'}
		<label
			>Of the dimension
			<Choice {disabled} value={column.dimension ?? ''} onpick={(v) => put({ dimension: v })}>
				<option value="">choose …</option>
				{#each dimensions as d (d.code)}<option value={d.code}>{d.name}</option>{/each}
			</Choice></label
		>
	{:else if column.kind === 'row'}
		<label
			>Of the schedule
			<Choice {disabled} value={column.schedule ?? ''} onpick={(v) => put({ schedule: v })}>
				<option value="">choose …</option>
				{#each schedules as s (s.code)}<option value={s.code}>{s.name}</option>{/each}
			</Choice></label
		>
	{:else if column.kind === 'pick'}
		<label
			>What can be picked, one a line
			<Textarea
				class="field"
				rows={4}
				{disabled}
				value={(column.choices ?? []).join('\n')}
				onchange={(e) =>
					put({
						choices: e.currentTarget.value
							.split('\n')
							.map((t) => t.trim())
							.filter(Boolean)
					})}
			/></label
		>
	{/if}
</div>

<fieldset>
	<legend>Where its values come from</legend>
	<div class="ways">
		<Radio name="way" value="typed" {disabled} bind:group={source.way}>typed</Radio>
		<Radio name="way" value="worked out" {disabled} bind:group={source.way}
			>worked out from other columns</Radio
		>
	</div>
	{#if column.formula !== undefined}
		{#key column.code}
			<FormulaField
				bind:value={
					() => column.formula ?? '',
					(formula) => {
						if (formula !== column.formula) put({ formula });
					}
				}
				{names}
				{result}
				focuses={false}
				label="Formula of {column.label}"
			/>
		{/key}
	{:else}
		<Tick {disabled} bind:checked={() => column.required, (v) => put({ required: v })}
			>each {definition.one} has to have one</Tick
		>
		<div class="grid">
			<label
				>A new {definition.one} begins with
				<Field
					{disabled}
					placeholder="nothing"
					value={usualText(column.default)}
					onchange={(e) => put({ default: usualFrom(column.kind, e.currentTarget.value) })}
				/></label
			>
		</div>
	{/if}
	{#if !PLACING.has(column.kind) && column.code !== definition.named}
		<PersonalTick {definition} own={column} {disabled} onchange={(personal) => put({ personal })} />
	{/if}
</fieldset>

{#if limited && column.formula === undefined}
	<fieldset>
		<legend
			>Limits: a {column.kind === 'date' ? 'date such as 2027-01-31' : 'figure'}, or another column</legend
		>
		<div class="grid">
			{#each [['least', 'Not below'], ['most', 'Not above']] as const as [end, says] (end)}
				<label
					>{column.kind === 'date' ? (end === 'least' ? 'Not before' : 'Not after') : says}
					<Field
						{disabled}
						placeholder="none"
						value={column[end] ?? ''}
						onchange={(e) => put({ [end]: limitFrom(e.currentTarget.value) })}
					/></label
				>
			{/each}
		</div>
	</fieldset>
{/if}
