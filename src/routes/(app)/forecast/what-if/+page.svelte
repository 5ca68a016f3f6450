<script lang="ts">
	import { goto } from '$app/navigation';
	import { Button, Input, Label, Select } from 'flowbite-svelte';
	import {
		ArrowDownOutline,
		ArrowUpOutline,
		CheckOutline,
		EditOutline,
		TrashBinOutline
	} from 'flowbite-svelte-icons';
	import { onDestroy, untrack } from 'svelte';
	import type { AdjustmentDefinition, NumberFormat } from '$lib/core/model/schema';
	import { adjustmentsFrom } from '$lib/core/plan/adjust';
	import type { Measure, MeasureEffect } from '$lib/core/plan/what-if';
	import type { WhyItChanged } from '$lib/core/plan/why';
	import type { GoalResult } from '$lib/core/search/goal-seek';
	import type { Ranges } from '$lib/core/search/monte-carlo';
	import { ApiError, post } from '$lib/ui/api';
	import { useCompany, withSelection } from '$lib/ui/company';
	import { figure, plain, readFigure } from '$lib/ui/format';
	import { notices } from '$lib/ui/notices.svelte';
	import AdjustmentDialog from '$lib/ui/what-if/AdjustmentDialog.svelte';
	import { nonCashParts, resultAccount, statementGroups } from '$lib/core/compare/key-figures';
	import EffectsTable from '$lib/ui/what-if/EffectsTable.svelte';
	import BridgeChart from '$lib/ui/what-if/BridgeChart.svelte';
	import RangeChart from '$lib/ui/what-if/RangeChart.svelte';
	import TornadoChart from '$lib/ui/what-if/TornadoChart.svelte';
	import { Cancelled, WhatIfThread, type Bridge, type DriverName } from '$lib/ui/what-if/what-if';
	import { operationWords, scopeWords } from '$lib/ui/what-if/words';
	import { reread } from '$lib/ui/reread';

	let { data } = $props();
	const company = useCompany();
	const { calendar } = company;
	const selection = $derived(data.selection);
	const whatIf = $derived(data.whatIf);
	const scenario = $derived(data.scenarios.find((s) => s.code === selection.scenario));
	const department = $derived(data.departments.find((d) => d.code === selection.department));
	const span = $derived({ from: selection.from, to: selection.to });

	/** As they are tried here; what is kept is in `whatIf`. */
	let list: AdjustmentDefinition[] = $derived(
		structuredClone($state.snapshot(whatIf?.adjustments ?? [])) as AdjustmentDefinition[]
	);
	let thread: WhatIfThread | null = null;
	let loaded = $state('');
	let drivers: DriverName[] = $state([]);
	let problem = $state('');
	let effects: MeasureEffect[] = $state([]);
	let bridge = $state<Bridge | null>(null);
	let busy = $state(false);
	let dialog = $state<{ adjustment: AdjustmentDefinition | null } | null>(null);
	/** What was just written in, so that it can be taken back on the spot. */
	let lastAdoption = $state<{ batch: string; words: string } | null>(null);

	// ---- what is watched
	const top = $derived(resultAccount(whatIf?.accounts ?? [])?.code);
	let watched = $state('');
	const watchedKey = $derived(watched || (top ? `account:${top}` : ''));
	const measureOf = (key: string): Measure => {
		const [kind, a, b] = key.split(':');
		return kind === 'account'
			? { kind: 'account', account: a, department: selection.department }
			: { kind: 'line', model: a, line: b };
	};
	const measureItems = $derived([
		...(whatIf?.accounts ?? []).map((a) => ({
			value: `account:${a.code}`,
			name: '\u00a0\u00a0'.repeat(a.depth) + a.name
		})),
		...(whatIf?.lines ?? []).map((l) => ({ value: `line:${l.model}:${l.line}`, name: l.name }))
	]);
	const nameOf = (key: string) => measureItems.find((m) => m.value === key)?.name.trim() ?? key;
	const accountOf = (key: string) => whatIf?.accounts.find((a) => `account:${a.code}` === key);
	const formatOf = (key: string): NumberFormat =>
		((accountOf(key)?.format ?? whatIf?.lines.find((l) => `line:${l.model}:${l.line}` === key)?.format) as
			NumberFormat | undefined) ?? 'money';
	const upIsGood = (key: string) => accountOf(key)?.type !== 'expense';
	const neutral = (key: string) => !accountOf(key) || accountOf(key)!.type === 'statistical';
	/** The groups of the profit and loss, parts before their totals, and what was chosen besides. */
	let chosen: string[] = $state([]);
	const accounts = $derived(whatIf?.accounts ?? []);
	const accountKey = (a: { code: string }) => `account:${a.code}`;
	const groups = $derived(statementGroups(accounts, 4).map(accountKey));
	const nonCash = $derived(nonCashParts(accounts));
	const shownKeys = $derived([...new Set([...groups, ...chosen])]);
	/** Also what key figures are made of. */
	const askedKeys = $derived([...new Set([...shownKeys, ...nonCash.map((p) => accountKey(p.account))])]);

	// ---- working it out
	onDestroy(() => thread?.close());
	// The saved inputs are new with each load.
	$effect(() => {
		const code = selection.scenario;
		void data.whatIf;
		untrack(() => void load(code));
	});
	async function load(code: string) {
		thread ??= new WhatIfThread((n) => (done = n));
		try {
			drivers = (await thread.load(code)).drivers;
			problem = '';
			loaded = `${code}/${Date.now()}`;
		} catch (e) {
			problem = e instanceof Error ? e.message : String(e);
		}
	}
	let asked = 0;
	$effect(() => {
		const adjustments = adjustmentsFrom($state.snapshot(list) as AdjustmentDefinition[], calendar);
		const keys = [watchedKey, ...askedKeys];
		const within = { ...span };
		if (!loaded || !watchedKey) return;
		const id = ++asked;
		untrack(() => void work(id, adjustments, keys, within));
	});
	async function work(
		id: number,
		adjustments: ReturnType<typeof adjustmentsFrom>,
		keys: string[],
		within: { from: number; to: number }
	) {
		if (!thread) return;
		try {
			const found = await thread.effects(adjustments, keys.map(measureOf), within);
			const steps = await thread.bridge(adjustments, measureOf(keys[0]), within);
			// Only the newest answer counts.
			if (id !== asked) return;
			effects = found;
			bridge = steps;
			problem = '';
		} catch (e) {
			if (id === asked && !(e instanceof Cancelled)) problem = e instanceof Error ? e.message : String(e);
		}
	}
	const measured = $derived(
		Object.fromEntries(effects.slice(1).map((e, i) => [askedKeys[i], e])) as Record<string, MeasureEffect>
	);
	const active = $derived(list.filter((a) => a.adopted === null));
	const effectOf = (code: string) => {
		const at = active.findIndex((a) => a.code === code);
		return effects[0]?.effects[at] ?? null;
	};

	// ---- changing it
	const path = $derived(`scenarios/${selection.scenario}/adjustments`);
	async function keep(change: unknown, words = '') {
		if (!whatIf?.editable) return;
		busy = true;
		try {
			// What is shown is what was kept; nothing else of the scenario changes by it.
			await post(path, change);
			if (words) notices.say(words);
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'This was not kept.', true);
			await reread();
		} finally {
			busy = false;
		}
	}
	function toggle(a: AdjustmentDefinition) {
		const on = !a.on;
		list = list.map((x) => (x.code === a.code ? { ...x, on } : x));
		void keep({ action: 'switch', code: a.code, on });
	}
	function put(adjustment: AdjustmentDefinition) {
		const at = list.findIndex((a) => a.code === adjustment.code);
		list = at < 0 ? [...list, adjustment] : list.map((a, i) => (i === at ? adjustment : a));
		dialog = null;
		void keep({ action: 'put', adjustment }, at < 0 ? `“${adjustment.name}” is added.` : '');
	}
	function move(a: AdjustmentDefinition, by: number) {
		const at = list.indexOf(a);
		const next = [...list];
		next.splice(at, 1);
		next.splice(at + by, 0, a);
		list = next;
		void keep({ action: 'move', code: a.code, to: at + by });
	}
	function remove(a: AdjustmentDefinition) {
		list = list.filter((x) => x.code !== a.code);
		void keep({ action: 'remove', code: a.code }, `“${a.name}” is taken out. History can bring it back.`);
	}
	/** A single step with a number can be slid. */
	const slides = (a: AdjustmentDefinition) => a.steps.length === 1 && a.steps[0].operation === 'multiply';
	const slid = (a: AdjustmentDefinition) => {
		const [step] = a.steps;
		return step.operation === 'multiply' ? Number(((step.value - 1) * 100).toPrecision(10)) : 0;
	};
	function slide(a: AdjustmentDefinition, percent: number, done: boolean) {
		const value = Number((1 + percent / 100).toPrecision(14));
		const changed = { ...a, steps: a.steps.map((s) => ({ ...s, value })) } as AdjustmentDefinition;
		list = list.map((x) => (x.code === a.code ? changed : x));
		if (done) void keep({ action: 'put', adjustment: $state.snapshot(changed) });
	}
	async function adopt(codes: string[]) {
		busy = true;
		try {
			const done = await post<{ saved: number; adopted: string[]; batch: string }>(`${path}/adopt`, {
				codes
			});
			await reread();
			const cells = `${done.saved.toLocaleString('en-GB')} ${done.saved === 1 ? 'cell' : 'cells'}`;
			lastAdoption = {
				batch: done.batch,
				words: `${done.adopted.map((n) => `“${n}”`).join(', ')} ${done.adopted.length === 1 ? 'is' : 'are'} written into the inputs: ${cells}.`
			};
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'This was not adopted.', true);
		} finally {
			busy = false;
		}
	}
	async function takeBack() {
		if (!lastAdoption) return;
		busy = true;
		try {
			await post(`scenarios/${selection.scenario}/history/undo`, { batch: lastAdoption.batch });
			lastAdoption = null;
			await reread();
			notices.say('The inputs are as they were, and the adjustments are back.');
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'This was not taken back.', true);
		} finally {
			busy = false;
		}
	}
	let naming = $state('');
	async function copyAsWhatIf() {
		try {
			const { code } = await post<{ code: string }>('scenarios', {
				from: selection.scenario,
				name: naming || `What if: ${scenario?.name}`,
				kind: 'what-if'
			});
			await goto(withSelection('/forecast/what-if', selection, calendar, { scenario: code }), {
				invalidateAll: true
			});
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'It was not copied.', true);
		}
	}

	// ---- further questions
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
	/** How much of a long answer is worked out. */
	let done = $state(0);
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
		void [watchedKey, span.from, span.to, loaded, JSON.stringify(list)];
		goal = null;
		tornado = null;
		ranges = null;
		why = null;
	});
	const others = $derived(
		data.scenarios.filter((s) => s.code !== selection.scenario && s.kind !== 'actuals')
	);
	const goals = $derived(active.filter((a) => a.steps.some((s) => s.operation !== 'shift')));
	const positive = (text: string) => {
		const v = readFigure(text, 'number');
		return typeof v === 'number' && v > 0 ? v : null;
	};
	async function ask<T>(question: (t: WhatIfThread) => Promise<T>, take: (answer: T) => void) {
		if (!thread) return;
		asking = true;
		done = 0;
		try {
			take(await question(thread));
		} catch (e) {
			if (!(e instanceof Cancelled)) notices.say(e instanceof Error ? e.message : String(e), true);
		} finally {
			asking = false;
		}
	}
	const scopes = () =>
		drivers.map((d) => ({
			block: d.block,
			line: d.line,
			where: {},
			from: Math.max(span.from, whatIf!.open),
			to: span.to
		}));
	function seek() {
		const wanted = readFigure(goalText, formatOf(watchedKey));
		const own = goals.find((a) => a.code === (goalOf || goals[0]?.code));
		if (typeof wanted !== 'number' || !own) {
			notices.say('Type the figure that is to be reached.');
			return;
		}
		const step = own.steps.findIndex((s) => s.operation !== 'shift');
		void ask(
			(t) => t.seek(own.code, step, measureOf(watchedKey), span, wanted),
			(answer) => (goal = { code: own.code, answer })
		);
	}
	function useGoal() {
		if (!goal) return;
		const own = list.find((a) => a.code === goal!.code)!;
		const step = own.steps.findIndex((s) => s.operation !== 'shift');
		const value = goal.answer.input;
		const adjustment = {
			...own,
			on: true,
			steps: own.steps.map((s, i) => (i === step ? { ...s, value } : s))
		} as AdjustmentDefinition;
		list = list.map((a) => (a.code === own.code ? adjustment : a));
		void keep({ action: 'put', adjustment: $state.snapshot(adjustment) });
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
			(t) => t.tornado(all, by / 100, measureOf(watchedKey), span),
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
					measureOf(watchedKey),
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
				(t) => t.why(other, measureOf(watchedKey), span),
				(found) => (why = found)
			);
	}
	const groupName = (g: WhyItChanged['groups'][number]) =>
		g === null
			? 'Formulas, bases, actuals, adjusted accounts'
			: (whatIf?.adjustables.find((a) => a.block === g.block)?.lines.find((l) => l.code === g.line)?.name ??
				`${g.block}.${g.line}`);
	const whyRows = $derived(
		why
			? why.groups
					.map((g, i) => ({ name: groupName(g), amount: why!.effects[i] }))
					.filter((r) => Math.abs(r.amount) > 0.005)
					.sort((a, b) => Math.abs(b.amount) - Math.abs(a.amount))
			: []
	);
	const whyStart = $derived(why && effects[0] ? (effects[0].with as number) - why.difference : 0);
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
	const labels = $derived(
		Array.from({ length: span.to - span.from + 1 }, (_, i) => calendar.shortLabel(span.from + i))
	);
	const format = $derived(formatOf(watchedKey));
	const showWatched = (v: number) => figure(v, format, format === 'money' ? data.figures : 'whole');
	const place = $derived(
		`${department?.name ?? ''}, ${calendar.label(selection.from)} – ${calendar.label(selection.to)}`
	);
</script>

<svelte:head><title>What if · {scenario?.name} · Yardstave</title></svelte:head>

{#if !whatIf || !scenario}
	<h1>What if</h1>
	<p class="muted">There is no scenario yet. Load a ledger file under Set up first.</p>
{:else}
	<div class="top">
		<div>
			<h1>What if: {scenario.name}</h1>
			<p class="muted">
				<a class="plain" href={withSelection('/forecast', selection, calendar)}>All scenarios</a> · {place}
				{#if whatIf.reason}· <b>{whatIf.reason}</b>{/if}
			</p>
			{#if problem}<p class="problem" role="alert">{problem}</p>{/if}
		</div>
		<div class="actions">
			{#if whatIf.editable}
				{#if active.some((a) => a.on)}<Button
						size="xs"
						color="light"
						disabled={busy}
						onclick={() => adopt(active.filter((a) => a.on).map((a) => a.code))}>Adopt all that are on</Button
					>{/if}
				<Button size="xs" onclick={() => (dialog = { adjustment: null })}>Add adjustment …</Button>
			{:else if data.may['change scenarios'] && scenario.kind !== 'actuals'}
				<Button size="xs" onclick={copyAsWhatIf}>Copy as a what-if</Button>
			{/if}
		</div>
	</div>
	{#if lastAdoption}
		<div class="adopted" role="status">
			<span>{lastAdoption.words}</span>
			<Button size="xs" color="light" disabled={busy} onclick={takeBack}>Take it back</Button>
			<button class="plain" onclick={() => (lastAdoption = null)}>Dismiss</button>
		</div>
	{/if}
	<div class="columns">
		<section class="panel list" aria-label="Adjustments">
			<h2>Adjustments <small class="muted">applied in this order, before formulas</small></h2>
			{#each list as a, i (a.code)}
				{@const effect = effectOf(a.code)}
				<article class:off={!a.on} data-adjustment={a.code}>
					<div class="row">
						{#if a.adopted}
							<span class="tick"><CheckOutline class="h-4 w-4" /></span>
						{:else}
							<button
								class="switch"
								role="switch"
								aria-checked={a.on}
								aria-label={a.name}
								onclick={() => toggle(a)}><span></span></button
							>
						{/if}
						<b class="name">{a.name}</b>
						{#if !a.adopted && effect !== null}
							<span
								class="effect"
								class:good={!neutral(watchedKey) && effect !== 0 && effect > 0 === upIsGood(watchedKey)}
								class:bad={!neutral(watchedKey) && effect !== 0 && effect > 0 !== upIsGood(watchedKey)}
								>{effect > 0 ? '+' : ''}{showWatched(effect)}</span
							>
						{/if}
					</div>
					{#each a.steps as step, s (s)}
						<p class="words">
							<b>{operationWords(step)}</b>
							{scopeWords(step, whatIf.adjustables, calendar)}
						</p>
					{/each}
					{#if a.adopted}
						<p class="muted small">Written into the inputs.</p>
					{:else}
						<div class="row tools">
							{#if slides(a)}
								<input
									type="range"
									min="-50"
									max="50"
									step="0.5"
									value={slid(a)}
									aria-label="Percent of {a.name}"
									oninput={(e) => slide(a, Number(e.currentTarget.value), false)}
									onchange={(e) => slide(a, Number(e.currentTarget.value), true)}
								/>
							{:else}<span class="grow"></span>{/if}
							{#if whatIf.editable}
								<button
									class="icon"
									disabled={i === 0}
									aria-label="Earlier: {a.name}"
									title="Earlier"
									onclick={() => move(a, -1)}><ArrowUpOutline class="h-4 w-4" /></button
								>
								<button
									class="icon"
									disabled={i === list.length - 1}
									aria-label="Later: {a.name}"
									title="Later"
									onclick={() => move(a, 1)}><ArrowDownOutline class="h-4 w-4" /></button
								>
								<button
									class="icon"
									aria-label="Change {a.name}"
									title="Change"
									onclick={() => (dialog = { adjustment: a })}><EditOutline class="h-4 w-4" /></button
								>
								<button class="icon" aria-label="Take out {a.name}" title="Take out" onclick={() => remove(a)}
									><TrashBinOutline class="h-4 w-4" /></button
								>
								<Button
									size="xs"
									color="light"
									class="px-2 py-1"
									disabled={busy}
									onclick={() => adopt([a.code])}>Adopt</Button
								>
							{/if}
						</div>
					{/if}
				</article>
			{:else}
				<p class="muted empty">
					Nothing is adjusted. Add one, for instance list prices + 5 % from March: it lies on top of the
					inputs, can be switched off, and can be written in later.
				</p>
			{/each}
		</section>
		<div class="right">
			<section class="panel">
				<div class="watch">
					<div role="tablist" aria-label="Questions" class="tabs">
						{#each TOOLS as t (t.key)}
							<button role="tab" aria-selected={tool === t.key} onclick={() => (tool = t.key)}
								>{t.name}</button
							>
						{/each}
					</div>
					<label
						>of
						<select
							aria-label="Watched figure"
							value={watchedKey}
							onchange={(e) => (watched = e.currentTarget.value)}
						>
							{#each measureItems as m (m.value)}<option value={m.value}>{m.name}</option>{/each}
						</select>
					</label>
				</div>
				{#if tool === 'bridge'}
					{#if bridge}
						<BridgeChart
							start={{ name: 'Without adjustments', value: bridge.start }}
							steps={bridge.steps}
							end={{ name: 'With adjustments', value: bridge.end }}
							upIsGood={upIsGood(watchedKey)}
							neutral={neutral(watchedKey)}
							show={showWatched}
						/>
					{:else}<p class="muted">Working it out …</p>{/if}
				{:else if tool === 'goal'}
					{#if goals.length}
						<div class="form">
							<div>
								<Label for="goal-figure">{nameOf(watchedKey)} is to be</Label>
								<Input
									id="goal-figure"
									size="sm"
									bind:value={goalText}
									placeholder={bridge ? plain(Math.round(bridge.end)) : ''}
								/>
							</div>
							<div>
								<Label for="goal-of">by changing</Label>
								<Select
									id="goal-of"
									size="sm"
									items={goals.map((a) => ({ value: a.code, name: a.name }))}
									value={goalOf || goals[0].code}
									onchange={(e) => (goalOf = (e.currentTarget as HTMLSelectElement).value)}
								/>
							</div>
							<Button size="sm" disabled={asking} onclick={seek}>{asking ? 'Looking …' : 'Find'}</Button>
						</div>
						{#if goal}
							{@const own = list.find((a) => a.code === goal!.code)!}
							{@const step = own.steps.find((s) => s.operation !== 'shift')!}
							<p class="answer">
								{#if goal.answer.found}
									<b>{operationWords({ ...step, value: goal.answer.input } as typeof step)}</b>
									instead of {operationWords(step)} gives {showWatched(goal.answer.result)}.
									{#if whatIf.editable}<Button size="xs" color="light" onclick={useGoal}>Use it</Button>{/if}
								{:else}
									{GOAL_WORDS[goal.answer.reason]}
									{#if Number.isFinite(goal.answer.result)}The nearest is {showWatched(
											goal.answer.result
										)}.{/if}
								{/if}
							</p>
						{/if}
					{:else}<p class="muted">Add an adjustment whose value is to be found.</p>{/if}
				{:else if tool === 'drivers'}
					<div class="form">
						<div>
							<Label for="move-by">Each driver lower and higher by, percent</Label>
							<Input id="move-by" size="sm" bind:value={moveBy} />
						</div>
						<Button size="sm" disabled={asking} onclick={findDrivers}
							>{asking ? 'Working …' : 'Compare'}</Button
						>
					</div>
					{#if tornado}
						{#if tornado.rows.length}<TornadoChart
								base={tornado.base}
								rows={tornado.rows}
								move="{moveBy} %"
								show={showWatched}
							/>
						{:else}<p class="muted">No driver of the plan moves this figure in this window.</p>{/if}
					{/if}
				{:else if tool === 'range'}
					<div class="form">
						<div>
							<Label for="uncertain-by">Every driver is off by about, percent</Label>
							<Input id="uncertain-by" size="sm" bind:value={uncertainBy} />
						</div>
						<div>
							<Label for="trials">Trials</Label>
							<Input id="trials" size="sm" bind:value={trials} />
						</div>
						<Button size="sm" disabled={asking} onclick={findRange}>{asking ? 'Drawing …' : 'Draw'}</Button>
					</div>
					{#if ranges}
						{@const total = (p: number) =>
							ranges!.percentiles.find((x) => x.percentile === p)!.values.at(-1)!}
						<p class="answer">
							Over the window: half of {ranges.trials.toLocaleString('en-GB')} trials lie between
							<b>{showWatched(total(25))}</b> and <b>{showWatched(total(75))}</b>, nine in ten between
							{showWatched(total(5))} and {showWatched(total(95))}; the middle is {showWatched(total(50))}.
						</p>
						<RangeChart {ranges} {labels} show={showWatched} />
						<p class="muted small">
							Each driver of the plan is multiplied by a factor of its own, drawn from a normal distribution
							around 1, the same over all its open months.
						</p>
					{/if}
				{:else}
					<div class="form">
						<div>
							<Label for="against">compared with</Label>
							<Select
								id="against"
								size="sm"
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
								name: data.scenarios.find((s) => s.code === (against || others[0]?.code))?.name ?? '',
								value: whyStart
							}}
							steps={whySteps}
							end={{ name: scenario.name, value: whyStart + why.difference }}
							upIsGood={upIsGood(watchedKey)}
							neutral={neutral(watchedKey)}
							show={showWatched}
						/>
						<p class="muted small">
							The average over {why.exact ? 'all orders' : 'a fixed sample of orders'} in which the drivers change
							from one scenario’s to the other’s; the steps sum exactly.
						</p>
					{/if}
				{/if}
				{#if asking && done}
					<p class="muted" role="status">
						{done.toLocaleString('en-GB')}
						{tool === 'range' ? `of ${trials} trials` : 'calculations'} …
						<button class="plain" onclick={() => void thread?.cancel()}>Cancel</button>
					</p>
				{/if}
			</section>
			<section class="panel">
				<EffectsTable
					caption={place}
					{accounts}
					rows={shownKeys.map((key) => ({
						key,
						name: nameOf(key),
						format: formatOf(key),
						depth: accountOf(key)?.depth ?? 0,
						upIsGood: upIsGood(key),
						neutral: neutral(key)
					}))}
					{measured}
					figures={data.figures}
				/>
				<label class="more"
					>Show also
					<select
						value=""
						onchange={(e) => {
							const key = e.currentTarget.value;
							if (key && !chosen.includes(key)) chosen = [...chosen, key];
							e.currentTarget.value = '';
						}}
					>
						<option value="">…</option>
						{#each measureItems.filter((m) => !shownKeys.includes(m.value)) as m (m.value)}<option
								value={m.value}>{m.name}</option
							>{/each}
					</select>
				</label>
			</section>
		</div>
	</div>
	{#if dialog}
		<AdjustmentDialog
			adjustment={dialog.adjustment}
			adjustables={whatIf.adjustables}
			{calendar}
			open={whatIf.open}
			last={whatIf.last}
			taken={list.map((a) => a.code)}
			onkeep={put}
			onclose={() => (dialog = null)}
		/>
	{/if}
{/if}

<style>
	.problem {
		color: var(--clay);
		font-weight: 600;
	}
	.adopted {
		display: flex;
		gap: 14px;
		align-items: center;
		background: var(--green-tint);
		border: 1px solid var(--rule-strong);
		border-radius: 6px;
		padding: 6px 12px;
		margin-bottom: 10px;
	}
	.columns {
		display: grid;
		grid-template-columns: 410px minmax(0, 1fr);
		gap: 14px;
		align-items: start;
	}
	.panel {
		background: var(--sheet);
		border: 1px solid var(--rule);
		border-radius: 8px;
		padding: 12px 16px;
	}
	.right {
		display: grid;
		gap: 14px;
	}
	h2 {
		font-weight: 600;
		margin-bottom: 4px;
	}
	h2 small {
		font-weight: 400;
		font-size: 12px;
	}
	article {
		padding: 10px 0 8px;
		border-top: 1px solid var(--rule);
	}
	.off .name,
	.off .words {
		color: var(--ink-2);
	}
	.row {
		display: flex;
		align-items: center;
		gap: 8px;
	}
	.name {
		flex: 1;
		font-weight: 600;
	}
	.words {
		margin: 2px 0 2px 44px;
		font-size: 13px;
		color: var(--ink-2);
	}
	.words b {
		color: var(--ink);
		font-weight: 600;
	}
	.tools {
		margin: 4px 0 0 44px;
	}
	.grow,
	input[type='range'] {
		flex: 1;
		min-width: 60px;
		accent-color: var(--green);
	}
	.effect {
		font-variant-numeric: tabular-nums;
		font-weight: 600;
	}
	.good {
		color: var(--green);
	}
	.bad {
		color: var(--clay);
	}
	.icon {
		padding: 3px;
		color: var(--ink-2);
		border-radius: 4px;
	}
	.icon:hover:not(:disabled) {
		background: var(--green-tint);
	}
	.icon:disabled {
		opacity: 0.35;
	}
	.switch {
		width: 34px;
		height: 20px;
		border-radius: 4px;
		border: 1px solid var(--rule-strong);
		background: var(--tint);
		padding: 2px;
		flex: none;
		display: flex;
	}
	.switch span {
		width: 14px;
		height: 14px;
		border-radius: 2px;
		background: var(--timber);
	}
	.switch[aria-checked='true'] {
		background: var(--green);
		justify-content: flex-end;
	}
	.switch[aria-checked='true'] span {
		background: var(--on-green);
	}
	.tick {
		width: 34px;
		color: var(--green);
	}
	.small {
		font-size: 12px;
		margin-left: 44px;
	}
	.right .small {
		margin-left: 0;
	}
	.empty {
		padding: 8px 0;
	}
	.watch {
		display: flex;
		justify-content: space-between;
		align-items: center;
		gap: 12px;
		border-bottom: 1px solid var(--rule);
		margin-bottom: 10px;
	}
	.tabs {
		display: flex;
		gap: 14px;
	}
	.tabs button {
		padding: 4px 0 7px;
		color: var(--ink-2);
		white-space: nowrap;
	}
	.tabs [aria-selected='true'] {
		color: var(--ink);
		font-weight: 600;
		box-shadow: inset 0 -2px var(--green);
	}
	select {
		border: 1px solid var(--rule-strong);
		border-radius: 5px;
		background-color: var(--sheet);
		color: var(--ink);
		font: inherit;
		font-weight: 600;
		padding: 2px 26px 2px 8px;
		max-width: 190px;
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
	.more {
		display: block;
		margin-top: 8px;
		color: var(--ink-2);
		font-size: 12px;
	}
</style>
