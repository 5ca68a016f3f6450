<script lang="ts">
	import { useCompany } from '../shell/company';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';
	import Radio from '../kit/form/Radio.svelte';
	import Select from '../kit/form/Select.svelte';
	import Dialog from '../kit/Dialog.svelte';
	import { untrack } from 'svelte';
	import type { Basis } from '../../core/inputs/basis';
	import { plain, readFigure } from '../writing/format';

	interface Props {
		name: string;
		account: string;
		basis: Basis;
		accounts: { code: string; name: string }[];
		/** Lines of driver models that may be chosen. */
		drivers: { code: string; name: string }[];
		onsave: (basis: Basis) => void;
		onclose: () => void;
	}
	let { name, account, basis, accounts, drivers, onsave, onclose }: Props = $props();
	const { words } = useCompany().calendar;
	const start = untrack(() => basis);
	let kind: Basis['kind'] = $state(start.kind);
	const asText = (v: number) => plain(Number((v * 100).toPrecision(10)));
	let rise = $state(start.kind === 'last-year' ? asText(start.percent) : '3');
	let part = $state(start.kind === 'percent-of' ? asText(start.percent) : '10');
	let of = $state(start.kind === 'percent-of' ? start.account : '');
	let months = $state(start.kind === 'run-rate' ? String(start.months) : '3');
	let driver = $state(start.kind === 'driver' ? start.driver : '');
	let rate = $state(start.kind === 'driver' ? plain(start.rate) : '');
	let problem = $state('');
	const others = $derived(
		accounts.filter((a) => a.code !== account).map((a) => ({ value: a.code, name: a.name }))
	);

	function save(event: SubmitEvent) {
		event.preventDefault();
		const number = (t: string) => readFigure(t.replace('%', ''), 'number') ?? NaN;
		problem = '';
		if (kind === 'typed') return onsave({ kind });
		if (kind === 'last-year') {
			if (!Number.isFinite(number(rise)))
				return (problem = 'Type the change as a number of percent, such as 3 or -2.5.');
			return onsave({ kind, percent: Number((number(rise) / 100).toPrecision(12)) });
		}
		if (kind === 'percent-of') {
			if (!Number.isFinite(number(part)))
				return (problem = 'Type the share as a number of percent, such as 11.5.');
			if (!of) return (problem = 'Choose the account it is a share of.');
			return onsave({ kind, percent: Number((number(part) / 100).toPrecision(12)), account: of });
		}
		if (kind === 'driver') {
			if (!driver) return (problem = 'Choose the driver.');
			if (!Number.isFinite(number(rate))) return (problem = 'Type the amount for one, such as 120 or 0.35.');
			return onsave({ kind, driver, rate: number(rate) });
		}
		const n = number(months);
		if (!Number.isInteger(n) || n < 1 || n > 36)
			return (problem = `Type a whole number of ${words.many} from 1 to 36.`);
		onsave({ kind, months: n });
	}
</script>

<Dialog title="Basis of {name}" action="Save basis" form="basis" {problem} {onclose}>
	<form id="basis" class="form" onsubmit={save}>
		<p class="muted">Where this account’s open {words.many} come from. Figures typed over it stay.</p>
		<Radio name="kind" value="typed" bind:group={kind}>Typed {words.one} by {words.one}</Radio>
		<Radio name="kind" value="last-year" bind:group={kind}
			>The same {words.one} last year, changed by a percentage</Radio
		>
		{#if kind === 'last-year'}
			<div class="more">
				<Label for="rise">Change, %</Label><Input id="rise" bind:value={rise} />
			</div>
		{/if}
		<Radio name="kind" value="percent-of" bind:group={kind}
			>A percentage of another account of the department</Radio
		>
		{#if kind === 'percent-of'}
			<div class="more">
				<Label for="part">Share, %</Label><Input id="part" bind:value={part} />
				<Label for="of">of</Label><Select
					id="of"
					items={others}
					bind:value={of}
					placeholder="Choose an account"
				/>
			</div>
		{/if}
		<Radio name="kind" value="run-rate" bind:group={kind}>The average of the last closed {words.many}</Radio>
		{#if kind === 'run-rate'}
			<div class="more">
				<Label for="months">{words.Many}</Label><Input id="months" bind:value={months} />
			</div>
		{/if}
		{#if drivers.length || kind === 'driver'}
			<Radio name="kind" value="driver" bind:group={kind}>A driver times a rate</Radio>
			{#if kind === 'driver'}
				<div class="more">
					<Label for="driver">Driver</Label><Select
						id="driver"
						items={drivers.map((d) => ({ value: d.code, name: d.name }))}
						bind:value={driver}
						placeholder="Choose a driver"
					/>
					<Label for="rate">for one</Label><Input
						id="rate"
						bind:value={rate}
						placeholder="an amount, such as 120"
					/>
				</div>
			{/if}
		{/if}
	</form>
</Dialog>

<style>
	.form {
		display: grid;
		gap: 10px;
	}
	.more {
		display: grid;
		grid-template-columns: 80px 1fr;
		gap: 8px;
		align-items: center;
		padding-left: 26px;
	}
</style>
