<script lang="ts">
	import { digits } from '../writing/count';
	import Button from '../kit/form/Button.svelte';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';
	import Select from '../kit/form/Select.svelte';
	import type { Span } from '../../core/calendar/spans';
	import type { AdjustmentDefinition, AdjustmentStepDefinition } from '../../core/inputs/schema';
	import type { NumberFormat } from '../../core/company/schema';
	import type { Measure } from '../../core/analysis/measure';
	import type { WhyItChanged } from '../../core/explain/why';
	import type { GoalResult } from '../../core/analysis/goal-seek';
	import type { Ranges } from '../../core/analysis/monte-carlo';
	import { useCompany } from '../shell/company';
	import { plain, readFigure } from '../writing/format';
	import { notices } from '../kit/notices.svelte';
	import BridgeChart from './BridgeChart.svelte';
	import RangeChart from './RangeChart.svelte';
	import TornadoChart from './TornadoChart.svelte';
	import { CalledOff } from '../../core/thread';
	import type { Bridge } from '../../core/analysis/effects';
	import { type DriverName, type WhatIfThread } from './what-if';
	import { lineOf } from './draft';
	import { operationWords, type Adjustable } from './words';
	import Choice from '../kit/form/Choice.svelte';
	import TextButton from '../kit/form/TextButton.svelte';
	import Tabs from '../kit/Tabs.svelte';
	import { tabPanel } from '../kit/tab-panel';

	/** Questions about one figure: what each adjustment does, what reaches a goal, what matters, its range, why it differs. */
	interface Props {
		thread: WhatIfThread | null;
		bridge: Bridge | null;
		list: readonly AdjustmentDefinition[];
		drivers: readonly DriverName[];
		/** Figures that can be watched, and which one is. */
		measureItems: readonly { value: string; name: string }[];
		watched: string;
		onwatch: (key: string) => void;
		measure: Measure;
		format: NumberFormat;
		upIsGood: boolean;
		neutral: boolean;
		show: (value: number) => string;
		span: Span;
		whatIf: {
			open: number;
			editable: boolean;
			adjustables: readonly Adjustable[];
		};
		scenario: { name: string };
		others: readonly { code: string; name: string }[];
		/** Changes with what is loaded: former answers are about something else then. */
		about: number;
		/** How much of a long answer is worked out. */
		done: number;
		onbegin: () => void;
		/** Takes a value that was found. */
		onuse: (adjustment: AdjustmentDefinition) => void;
	}
	let {
		thread,
		bridge,
		list,
		drivers,
		measureItems,
		watched,
		onwatch,
		measure,
		format,
		upIsGood,
		neutral,
		show,
		span,
		whatIf,
		scenario,
		others,
		about,
		done,
		onbegin,
		onuse
	}: Props = $props();
	const company = useCompany();
	const { calendar } = company;
	const periodsOf = (step: AdjustmentStepDefinition) => company.calendarOf(step.lines[0].block);

	type Tool = 'bridge' | 'goal' | 'drivers' | 'range' | 'why';
	const TOOLS: { key: Tool; name: string }[] = [
		{ key: 'bridge', name: 'Bridge' },
		{ key: 'goal', name: 'Reach a goal' },
		{ key: 'drivers', name: 'What matters most' },
		{ key: 'range', name: 'Range' },
		{ key: 'why', name: 'Why it differs' }
	];
	let tool: Tool = $state('bridge');
	let asking = $state(false);
	let goalText = $state('');
	let goalOf = $state('');
	let goal = $state<{ code: string; answer: GoalResult } | null>(null);
	let moveBy = $state('10');
	let tornado = $state<{ base: number; rows: { name: string; low: number; high: number }[] } | null>(null);
	let uncertainBy = $state('10');
	let trials = $state('2000');
	let ranges = $state<Ranges | null>(null);
	let against = $state('');
	let why = $state<WhyItChanged | null>(null);
	// An answer about another figure or window would mislead.
	$effect(() => {
		void [watched, span.from, span.to, about, JSON.stringify(list)];
		goal = null;
		tornado = null;
		ranges = null;
		why = null;
	});
	const goals = $derived(list.filter((a) => a.adopted === null && a.steps.some(isSought)));
	const lineFor = (step: AdjustmentStepDefinition) => lineOf(whatIf.adjustables, step.lines[0]);
	/** Steps whose value is an amount that can be sought. */
	const isSought = (step: AdjustmentStepDefinition) =>
		step.operation !== 'shift' && typeof step.value === 'number' && lineFor(step)?.column !== 'date';
	const positive = (text: string) => {
		const v = readFigure(text, 'number');
		return typeof v === 'number' && v > 0 ? v : null;
	};
	async function ask<T>(question: (t: WhatIfThread) => Promise<T>, take: (answer: T) => void) {
		if (!thread) return;
		asking = true;
		onbegin();
		try {
			take(await question(thread));
		} catch (e) {
			if (!(e instanceof CalledOff)) notices.say(e instanceof Error ? e.message : String(e), true);
		} finally {
			asking = false;
		}
	}
	const scopes = () =>
		drivers.map((d) => ({
			block: d.block,
			line: d.line,
			where: {},
			from: Math.max(span.from, whatIf.open),
			to: span.to
		}));
	function seek() {
		const wanted = readFigure(goalText, format);
		const own = goals.find((a) => a.code === (goalOf || goals[0]?.code));
		if (typeof wanted !== 'number' || !own) {
			notices.say('Type the figure that is to be reached.');
			return;
		}
		const step = own.steps.findIndex(isSought);
		void ask(
			(t) => t.seek(own.code, step, measure, span, wanted),
			(answer) => (goal = { code: own.code, answer })
		);
	}
	function useGoal() {
		if (!goal) return;
		const own = list.find((a) => a.code === goal!.code)!;
		const step = own.steps.findIndex(isSought);
		const value = goal.answer.input;
		const adjustment = {
			...own,
			on: true,
			steps: own.steps.map((s, i) => (i === step ? { ...s, value } : s))
		} as AdjustmentDefinition;
		onuse(adjustment);
	}
	const GOAL_WORDS: Record<string, string> = {
		'no-effect': 'It does not change this figure at all.',
		'out-of-reach': 'No value reaches it.',
		jump: 'The figure jumps over it.',
		'no-number': 'The figure is an error on the way.',
		'gave-up': 'It was not found.'
	};
	function findDrivers() {
		const by = positive(moveBy);
		if (by === null) {
			notices.say('Type by how many percent each driver is moved.');
			return;
		}
		const all = scopes();
		void ask(
			(t) => t.tornado(all, by / 100, measure, span),
			({ base, drivers: found }) =>
				(tornado = {
					base,
					rows: found
						.filter((d) => d.range > 0.005)
						.slice(0, 12)
						.map((d) => ({ name: drivers[d.driver].name, low: d.low, high: d.high }))
				})
		);
	}
	function findRange() {
		const by = positive(uncertainBy);
		const times = positive(trials);
		if (by === null || times === null || times > 20_000) {
			notices.say('Type a percentage, and up to 20,000 trials.');
			return;
		}
		const distribution = { kind: 'normal', mean: 1, deviation: by / 100 } as const;
		void ask(
			(t) =>
				t.ranges(
					scopes().map((driver) => ({ driver, distribution })),
					measure,
					span,
					Math.round(times),
					1
				),
			(found) => (ranges = found)
		);
	}
	function findWhy() {
		const other = against || others[0]?.code;
		if (other)
			void ask(
				(t) => t.why(other, measure, span),
				(found) => (why = found)
			);
	}
	const REST = 'Formulas, bases, actuals, rates, adjusted accounts';
	const whyRows = $derived(
		why
			? why.names
					.map((name, i) => ({ name: name || REST, amount: why!.effects[i] }))
					.filter((r) => Math.abs(r.amount) > 0.005)
					.sort((a, b) => Math.abs(b.amount) - Math.abs(a.amount))
			: []
	);
	const whyStart = $derived(why?.start ?? 0);
	const whySteps = $derived.by(() => {
		let at = whyStart;
		const most = whyRows.slice(0, 9);
		const rest = whyRows.slice(9).reduce((s, r) => s + r.amount, 0);
		const lines = rest ? [...most, { name: `${whyRows.length - 9} more`, amount: rest }] : most;
		return lines.map((r) => {
			const from = at;
			at += r.amount;
			return { ...r, from, to: at };
		});
	});
	const watchedName = $derived(measureItems.find((m) => m.value === watched)?.name.trim() ?? watched);
	const labels = $derived(
		Array.from({ length: span.to - span.from + 1 }, (_, i) => calendar.label(span.from + i))
	);
</script>

<div class="watch">
	<Tabs label="Questions" panel="questions" tabs={TOOLS} chosen={tool} onchoose={(key) => (tool = key)} />
	<label
		>of
		<Choice
			style="max-width: 190px"
			class="choice"
			aria-label="Watched figure"
			value={watched}
			onpick={(v) => onwatch(v)}
		>
			{#each measureItems as m (m.value)}<option value={m.value}>{m.name}</option>{/each}
		</Choice>
	</label>
</div>
<div {...tabPanel('questions', tool)}>
	{#if tool === 'bridge'}
		{#if bridge}
			<BridgeChart
				start={{ name: 'Without adjustments', value: bridge.start }}
				steps={bridge.steps}
				end={{ name: 'With adjustments', value: bridge.end }}
				{upIsGood}
				{neutral}
				{show}
			/>
		{:else}<p class="muted">Working it out …</p>{/if}
	{:else if tool === 'goal'}
		{#if goals.length}
			<div class="form">
				<div>
					<Label for="goal-figure">{watchedName} is to be</Label>
					<Input
						id="goal-figure"
						bind:value={goalText}
						placeholder={bridge ? plain(Math.round(bridge.end)) : ''}
					/>
				</div>
				<div>
					<Label for="goal-of">by changing</Label>
					<Select
						id="goal-of"
						items={goals.map((a) => ({ value: a.code, name: a.name }))}
						value={goalOf || goals[0].code}
						onchange={(e) => (goalOf = (e.currentTarget as HTMLSelectElement).value)}
					/>
				</div>
				<Button size="sm" disabled={asking} onclick={seek}>{asking ? 'Looking …' : 'Find'}</Button>
			</div>
			{#if goal}
				{@const own = list.find((a) => a.code === goal!.code)!}
				{@const step = own.steps.find(isSought)!}
				<p class="answer">
					{#if goal.answer.found}
						<b
							>{operationWords(
								{ ...step, value: goal.answer.input } as typeof step,
								periodsOf(step),
								lineFor(step)
							)}</b
						>
						instead of {operationWords(step, periodsOf(step), lineFor(step))} gives {show(
							goal.answer.result
						)}.
						{#if whatIf.editable}<Button quiet onclick={useGoal}>Use it</Button>{/if}
					{:else}
						{GOAL_WORDS[goal.answer.reason]}
						{#if Number.isFinite(goal.answer.result)}The nearest is {show(goal.answer.result)}.{/if}
					{/if}
				</p>
			{/if}
		{:else}<p class="muted">Add an adjustment whose value is to be found.</p>{/if}
	{:else if tool === 'drivers'}
		<div class="form">
			<div>
				<Label for="move-by">Each driver lower and higher by, percent</Label>
				<Input id="move-by" bind:value={moveBy} />
			</div>
			<Button size="sm" disabled={asking} onclick={findDrivers}>{asking ? 'Working …' : 'Compare'}</Button>
		</div>
		{#if tornado}
			{#if tornado.rows.length}<TornadoChart
					base={tornado.base}
					rows={tornado.rows}
					move="{moveBy} %"
					{show}
				/>
			{:else}<p class="muted">No driver of the plan moves this figure in this window.</p>{/if}
		{/if}
	{:else if tool === 'range'}
		<div class="form">
			<div>
				<Label for="uncertain-by">Every driver is off by about, percent</Label>
				<Input id="uncertain-by" bind:value={uncertainBy} />
			</div>
			<div>
				<Label for="trials">Trials</Label>
				<Input id="trials" bind:value={trials} />
			</div>
			<Button size="sm" disabled={asking} onclick={findRange}>{asking ? 'Drawing …' : 'Draw'}</Button>
		</div>
		{#if ranges}
			{@const total = (p: number) => ranges!.percentiles.find((x) => x.percentile === p)!.values.at(-1)!}
			<p class="answer">
				Over the window: half of {digits(ranges.trials)} trials lie between
				<b>{show(total(25))}</b> and <b>{show(total(75))}</b>, nine in ten between
				{show(total(5))} and {show(total(95))}; the middle is {show(total(50))}.
			</p>
			<RangeChart {ranges} {labels} {show} />
			<p class="muted small">
				Each driver of the plan is multiplied by a factor of its own, drawn from a normal distribution around
				1, the same over all its open {calendar.words.many}.
			</p>
		{/if}
	{:else}
		<div class="form">
			<div>
				<Label for="against">compared with</Label>
				<Select
					id="against"
					items={others.map((s) => ({ value: s.code, name: s.name }))}
					value={against || others[0]?.code}
					onchange={(e) => {
						against = (e.currentTarget as HTMLSelectElement).value;
						why = null;
					}}
				/>
			</div>
			<Button size="sm" disabled={asking || !others.length} onclick={findWhy}
				>{asking ? 'Working …' : 'Explain'}</Button
			>
		</div>
		{#if why}
			<BridgeChart
				start={{
					name: others.find((s) => s.code === (against || others[0]?.code))?.name ?? '',
					value: whyStart
				}}
				steps={whySteps}
				end={{ name: scenario.name, value: whyStart + why.difference }}
				{upIsGood}
				{neutral}
				{show}
			/>
			<p class="muted small">
				The average over {why.exact ? 'all orders' : 'a fixed sample of orders'} in which the drivers change from
				one scenario’s to the other’s; the steps sum exactly.
			</p>
		{/if}
	{/if}
	{#if asking && done}
		<p class="muted" role="status">
			{digits(done)}
			{tool === 'range' ? `of ${trials} trials` : 'calculations'} …
			<TextButton onclick={() => thread?.cancel()}>Cancel</TextButton>
		</p>
	{/if}
</div>

<style>
	.small {
		font-size: 12px;
	}
	.watch {
		display: flex;
		justify-content: space-between;
		align-items: center;
		gap: 12px;
		border-bottom: 1px solid var(--rule);
		margin-bottom: 10px;
	}
	.form {
		display: flex;
		gap: 12px;
		align-items: end;
		margin-bottom: 10px;
	}
	.answer {
		margin-bottom: 8px;
	}
</style>
