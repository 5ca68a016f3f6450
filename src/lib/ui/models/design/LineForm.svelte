<script lang="ts">
	import Radio from '../../kit/form/Radio.svelte';
	import { useCompany } from '../../shell/company';
	import type { Names } from '../../../core/formula/check';
	import type { Line, ModelDefinition, Proof } from '../../../core/blocks/driver-model/schema';
	import FormulaField from '../../design/FormulaField.svelte';
	import { codeOf, withPostings, type DesignDimension } from './design';
	import { omit } from '../../design/lists';
	import { modelCalendar } from '../../../core/blocks/driver-model/periods';
	import LineProofs from './LineProofs.svelte';
	import Postings from './Postings.svelte';
	import ScopedFormulas from './ScopedFormulas.svelte';
	import Field from '../../kit/form/Field.svelte';
	import Choice from '../../kit/form/Choice.svelte';

	/** All that makes a line. */
	interface Props {
		definition: ModelDefinition;
		line: Line;
		/** Not saved yet, so that its code may still change. */
		fresh: boolean;
		dimensions: readonly DesignDimension[];
		accounts: readonly { code: string; name: string }[];
		departments: readonly { code: string; name: string }[];
		months: readonly { key: string; label: string }[];
		names: Names;
		disabled: boolean;
		onchange: (definition: ModelDefinition) => void;
	}
	let {
		definition,
		line,
		fresh,
		dimensions,
		accounts,
		departments,
		months,
		names,
		disabled,
		onchange
	}: Props = $props();
	const company = useCompany();
	const { words } = $derived(modelCalendar(definition, company.calendar));
	const quantity = $derived(names.own.lines.find((l) => l.code === line.code)?.quantity);
	const others = $derived(definition.lines.filter((l) => l.code !== line.code));
	const postings = $derived(definition.postings.filter((p) => p.line === line.code));
	const proofs = $derived((definition.proofs ?? []).filter((p) => p.line === line.code));

	function put(more: Partial<Line>) {
		const next = { ...line, ...more };
		for (const key of ['formula', 'actual', 'scoped'] as const)
			if (key in more && more[key] === undefined) delete next[key];
		onchange({ ...definition, lines: definition.lines.map((l) => (l.code === line.code ? next : l)) });
	}
	/** A new line is called in formulas after its label, until somebody says otherwise. */
	function relabel(label: string) {
		const taken = others.map((l) => l.code);
		if (!fresh || line.code !== codeOf(line.label, taken)) return put({ label });
		recode(codeOf(label, taken), label);
	}
	function recode(code: string, label = line.label) {
		const own = (x: { line: string }) => x.line === line.code;
		onchange({
			...definition,
			lines: definition.lines.map((l) => (l.code === line.code ? { ...l, code, label } : l)),
			postings: definition.postings.map((p) => (own(p) ? { ...p, line: code } : p)),
			...(definition.proofs
				? { proofs: definition.proofs.map((p) => (own(p) ? { ...p, line: code } : p)) }
				: {})
		});
	}
	function putProofs(list: Proof[]) {
		const rest = (definition.proofs ?? []).filter((p) => p.line !== line.code);
		const all = [...rest, ...list];
		const without = omit(definition, 'proofs');
		onchange(all.length ? { ...without, proofs: all } : without);
	}
	const FORMATS = [
		['number', 'number'],
		['money', 'money'],
		['price', 'price, with pence'],
		['percent', 'percent']
	] as const;
	const TIME = $derived([
		['sum', 'their sum'],
		['average', 'their average'],
		['last', `the last ${words.one}`],
		['formula', 'recomputed from totals']
	] as const);
	const MEMBERS = $derived([
		['sum', 'their sum'],
		['average', 'their average'],
		['formula', 'recomputed from totals'],
		...others.map((l) => [`weighted:${l.code}`, `mean, weighted by ${l.label}`] as const)
	] as const);
	/** In the list of what closed months show; it stands beside the formula's own field. */
	const FORMULA = 'formula';
	function putClosed(value: string) {
		if (value === FORMULA) put({ closed: 'blank', actual: line.formula ?? '0' });
		else put({ closed: value as Line['closed'], actual: undefined });
	}
	const CLOSED = [
		['blank', 'nothing'],
		['keep', 'the plan’s own values'],
		['actuals', 'actuals, where it posts to'],
		[FORMULA, 'a formula over other lines']
	] as const;
	const EXTEND = [
		['year-ago', 'the values of a year ago'],
		['last', 'the last value again'],
		['blank', 'nothing']
	] as const;
	/** Where the values come from. */
	const source = {
		get way() {
			return line.formula === undefined ? 'typed' : 'calculated';
		},
		set way(way: string) {
			put({ formula: way === 'typed' ? undefined : (line.formula ?? '0') });
		}
	};
</script>

<div class="grid">
	<label>Label <Field {disabled} value={line.label} oninput={(e) => relabel(e.currentTarget.value)} /></label>
	<label
		>Name in formulas
		<Field
			class="font-mono"
			disabled={disabled || !fresh}
			title={fresh ? undefined : 'It stays what it is: typed figures are kept by it.'}
			value={line.code}
			onchange={(e) => recode(e.currentTarget.value)}
		/></label
	>
	<label
		>Unit
		<Field
			{disabled}
			placeholder="pieces, hours, GBP each …"
			value={line.unit}
			oninput={(e) => put({ unit: e.currentTarget.value })}
		/></label
	>
	<label
		>Shown as
		<Choice {disabled} value={line.format} onpick={(v) => put({ format: v as Line['format'] })}>
			{#each FORMATS as [value, name] (value)}<option {value}>{name}</option>{/each}
		</Choice></label
	>
</div>

<fieldset>
	<legend>Where its values come from</legend>
	<div class="ways">
		<Radio name="way" value="typed" {disabled} bind:group={source.way}>typed</Radio>
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
				result={quantity}
				focuses={false}
				label="Formula of {line.label}"
			/>
		{/key}
	{/if}
	{#if dimensions.length || line.scoped?.length || line.formula !== undefined}
		<p class="sub">Exceptions for some members or {words.many}; the first that fits applies</p>
		<ScopedFormulas
			{line}
			{dimensions}
			{months}
			{names}
			result={quantity}
			{words}
			{disabled}
			onchange={(scoped) => put({ scoped: scoped.length ? scoped : undefined })}
		/>
	{/if}
</fieldset>

<fieldset>
	<legend>Totals, closed and further {words.many}</legend>
	<div class="grid">
		<label
			>A quarter or a year is
			<Choice
				{disabled}
				value={line.rollup.time}
				onpick={(v) => put({ rollup: { ...line.rollup, time: v as Line['rollup']['time'] } })}
			>
				{#each TIME as [value, name] (value)}<option {value}>{name}</option>{/each}
			</Choice></label
		>
		{#if dimensions.length}
			<label
				>Several members are
				<Choice
					{disabled}
					value={line.rollup.members}
					onpick={(v) => put({ rollup: { ...line.rollup, members: v } })}
				>
					{#each MEMBERS as [value, name] (value)}<option {value}>{name}</option>{/each}
				</Choice></label
			>
		{/if}
		<label
			>Closed {words.many} show
			<Choice
				{disabled}
				value={line.actual === undefined ? line.closed : FORMULA}
				onpick={(v) => putClosed(v)}
			>
				{#each CLOSED as [value, name] (value)}<option {value}>{name}</option>{/each}
			</Choice></label
		>
		{#if line.formula === undefined}
			<label
				>A longer forecast goes on with
				<Choice {disabled} value={line.extend} onpick={(v) => put({ extend: v as Line['extend'] })}>
					{#each EXTEND as [value, name] (value)}<option {value}>{name}</option>{/each}
				</Choice></label
			>
		{/if}
	</div>
	{#if line.actual !== undefined}
		<p class="sub">In closed {words.many}</p>
		{#key line.code}
			<FormulaField
				bind:value={
					() => line.actual ?? '',
					(actual) => {
						if (actual !== line.actual) put({ actual });
					}
				}
				{names}
				result={quantity}
				focuses={false}
				label="Formula of {line.label} in closed {words.many}"
			/>
		{/key}
	{/if}
</fieldset>

<fieldset>
	<legend>Posts to; for each row the first that fits is used</legend>
	<Postings
		{line}
		{postings}
		{dimensions}
		{accounts}
		{departments}
		{disabled}
		onchange={(list) => onchange(withPostings(definition, line.code, list))}
	/>
</fieldset>

<fieldset>
	<legend>Proofs: figures it is expected to give</legend>
	<LineProofs {line} {proofs} {dimensions} {months} {words} {disabled} onchange={putProofs} />
</fieldset>

<style>
	.sub {
		color: var(--ink-2);
		margin: 8px 0 4px;
	}
</style>
