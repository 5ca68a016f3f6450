<script lang="ts">
	import { counted } from '$lib/ui/writing/count';
	import { goto } from '$app/navigation';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import { onDestroy, untrack } from 'svelte';
	import type { AdjustmentDefinition } from '$lib/core/inputs/schema';
	import type { Span } from '$lib/core/calendar/spans';
	import type { NumberFormat } from '$lib/core/company/schema';
	import { adjustmentsFrom } from '$lib/core/inputs/adjust';
	import { bridgeOf, type MeasureEffect } from '$lib/core/analysis/effects';
	import type { Measure } from '$lib/core/analysis/measure';
	import { ApiError, post } from '$lib/ui/kit/api';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import { figure } from '$lib/ui/writing/format';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import AdjustmentDialog from '$lib/ui/what-if/AdjustmentDialog.svelte';
	import { watchedAtFirst } from '$lib/core/statements/key-figures';
	import AdjustmentList from '$lib/ui/what-if/AdjustmentList.svelte';
	import Questions from '$lib/ui/what-if/Questions.svelte';
	import EffectsTable from '$lib/ui/what-if/EffectsTable.svelte';
	import { CalledOff } from '$lib/core/thread';
	import { WhatIfThread, type DriverName } from '$lib/ui/what-if/what-if';
	import { STAYS, whenIdle } from '$lib/ui/kit/idle';
	import { Newest } from '$lib/ui/kit/newest';
	import { reread } from '$lib/ui/kit/reread';
	import Choice from '$lib/ui/kit/form/Choice.svelte';
	import TextButton from '$lib/ui/kit/form/TextButton.svelte';

	let { data } = $props();
	const company = useCompany();
	const { calendar } = company;
	const selection = $derived(data.selection);
	const whatIf = $derived(data.whatIf);
	const scenario = $derived(data.scenarios.find((s) => s.code === selection.scenario));
	const department = $derived(data.departments.find((d) => d.code === selection.department));
	/** The currency that is shown, where there are several. */
	const severalIn = $derived(
		data.money.local === data.money.reporting
			? ''
			: selection.money === 'reporting'
				? data.company.currency
				: (department?.currency ?? 'own currencies')
	);
	const span = $derived({ from: selection.from, to: selection.to });

	/** As they are tried here; what is kept is in `whatIf`. */
	let list: AdjustmentDefinition[] = $derived(
		structuredClone($state.snapshot(whatIf?.adjustments ?? [])) as AdjustmentDefinition[]
	);
	let thread: WhatIfThread | null = $state.raw(null);
	/** Changes with each version that is saved: answers about another one are none any more. */
	let about = $state(0);
	/** Which of them the thread has. */
	let loaded = $state(0);
	let drivers: DriverName[] = $state([]);
	let problem = $state('');
	let busy = $state(false);
	/** How much of a long answer is worked out. */
	let done = $state(0);
	let dialog = $state<{ adjustment: AdjustmentDefinition | null } | null>(null);
	/** What was just written in, so that it can be taken back on the spot. */
	let lastAdoption = $state<{ batch: string; words: string } | null>(null);

	// ---- what is watched
	const accountKey = (code: string) => `account:${code}`;
	const accounts = $derived(whatIf?.accounts ?? []);
	const first = $derived(watchedAtFirst(accounts));
	let watched = $state('');
	const watchedKey = $derived(watched || (first.result === null ? '' : accountKey(first.result)));
	const measureOf = (key: string): Measure => {
		const [kind, a, b] = key.split(':');
		return kind === 'account'
			? { kind: 'account', account: a, department: selection.department, money: selection.money }
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
	const shownKeys = $derived([...new Set([...first.shown.map(accountKey), ...chosen])]);
	/** Also what key figures are made of. */
	const askedKeys = $derived([...new Set([...shownKeys, ...first.asked.map(accountKey)])]);

	/** What adjustments do, by what is watched: as the page came with it, and then as it is worked out here. */
	let measured: Readonly<Record<string, MeasureEffect>> = $derived(ofAccounts(whatIf?.effects ?? {}));
	function ofAccounts(effects: Record<string, MeasureEffect>) {
		return Object.fromEntries(Object.entries(effects).map(([code, e]) => [accountKey(code), e]));
	}

	// ---- working it out
	onDestroy(() => thread?.cancel());
	// The saved inputs are new with each load.
	$effect(() => {
		const code = selection.scenario;
		void data.whatIf;
		return untrack(() => {
			thread ??= new WhatIfThread((n) => (done = n));
			thread.take(code);
			about++;
			// The page came with its first figures; the thread takes the scenario for what is tried next.
			if (measured[watchedKey]) return whenIdle(() => void begin(about), STAYS);
			void begin(about);
		});
	});
	async function begin(version: number) {
		try {
			drivers = await thread!.drivers();
			problem = '';
			loaded = version;
		} catch (e) {
			if (!(e instanceof CalledOff)) problem = e instanceof Error ? e.message : String(e);
		}
	}
	const isTried = $derived(JSON.stringify(list) !== JSON.stringify(whatIf?.adjustments ?? []));
	let asked = 0;
	$effect(() => {
		const tried = $state.snapshot(list) as AdjustmentDefinition[];
		const keys = [...new Set([watchedKey, ...askedKeys])];
		const within = { ...span };
		if (!watchedKey) return;
		if (!loaded && !isTried) {
			// As the page came, also when something else has been tried since.
			asked++;
			measured = ofAccounts(whatIf?.effects ?? {});
			return;
		}
		const id = ++asked;
		untrack(() => {
			if (loaded) return void work(id, adjustmentsFrom(tried, calendar), keys, within);
			// Who tries something waits for the thread from now on, and is told by the server meanwhile.
			void begin(about);
			trying.run(() => askServer(id, tried, within));
		});
	});
	const trying = new Newest();
	async function askServer(id: number, adjustments: AdjustmentDefinition[], { from, to }: Span) {
		const { department, money } = selection;
		const window = { from: calendar.key(from), to: calendar.key(to) };
		try {
			const told = await post<{ effects: Record<string, MeasureEffect> }>(`${path}/effects`, {
				department,
				money,
				...window,
				adjustments
			});
			const found = ofAccounts(told.effects);
			if (id === asked && found[watchedKey]) measured = found;
		} catch {
			// The thread says what is wrong.
		}
	}
	async function work(
		id: number,
		adjustments: ReturnType<typeof adjustmentsFrom>,
		keys: string[],
		within: { from: number; to: number }
	) {
		if (!thread) return;
		try {
			thread.adjust(adjustments);
			const found = await thread.effects(keys.map(measureOf), within);
			// Only the newest answer counts.
			if (id !== asked) return;
			measured = Object.fromEntries(keys.map((key, i) => [key, found[i]]));
			problem = '';
		} catch (e) {
			if (id === asked && !(e instanceof CalledOff)) problem = e instanceof Error ? e.message : String(e);
		}
	}
	const active = $derived(list.filter((a) => a.adopted === null));
	const effectOf = (code: string) => {
		const at = active.findIndex((a) => a.code === code);
		return measured[watchedKey]?.effects[at] ?? null;
	};
	const bridge = $derived(measured[watchedKey] ? bridgeOf(measured[watchedKey], active) : null);

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
			const cells = counted(done.saved, 'value');
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

	const format = $derived(formatOf(watchedKey));
	/** Takes an adjustment as it was found. */
	function use(adjustment: AdjustmentDefinition) {
		list = list.map((a) => (a.code === adjustment.code ? adjustment : a));
		void keep({ action: 'put', adjustment: $state.snapshot(adjustment) });
	}
	const showWatched = (v: number) => figure(v, format, format === 'money' ? data.figures : 'whole');
	const place = $derived(
		`${department?.name ?? ''}, ${calendar.label(selection.from)} – ${calendar.label(selection.to)}${severalIn ? `, ${severalIn}` : ''}`
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
						quiet
						disabled={busy}
						onclick={() => adopt(active.filter((a) => a.on).map((a) => a.code))}>Adopt all that are on</Button
					>{/if}
				<Button onclick={() => (dialog = { adjustment: null })}>Add adjustment …</Button>
			{:else if data.may['change scenarios'] && scenario.kind !== 'actuals'}
				<Button onclick={copyAsWhatIf}>Copy as a what-if</Button>
			{/if}
		</div>
	</div>
	{#if lastAdoption}
		<div class="adopted" role="status">
			<span>{lastAdoption.words}</span>
			<Button quiet disabled={busy} onclick={takeBack}>Take it back</Button>
			<TextButton onclick={() => (lastAdoption = null)}>Dismiss</TextButton>
		</div>
	{/if}
	<div class="columns">
		<section class="panel list" aria-label="Adjustments">
			<AdjustmentList
				{list}
				adjustables={whatIf.adjustables}
				kept={whatIf.kept}
				editable={whatIf.editable}
				{busy}
				{effectOf}
				upIsGood={upIsGood(watchedKey)}
				neutral={neutral(watchedKey)}
				show={showWatched}
				ontoggle={toggle}
				onslide={slide}
				onmove={move}
				onchange={(adjustment) => (dialog = { adjustment })}
				onremove={remove}
				onadopt={(a) => adopt([a.code])}
			/>
		</section>
		<div class="right">
			<section class="panel">
				<Questions
					{thread}
					{bridge}
					{list}
					{drivers}
					{measureItems}
					watched={watchedKey}
					onwatch={(key) => (watched = key)}
					measure={measureOf(watchedKey)}
					{format}
					upIsGood={upIsGood(watchedKey)}
					neutral={neutral(watchedKey)}
					show={showWatched}
					{span}
					{whatIf}
					{scenario}
					others={data.scenarios.filter((s) => s.code !== selection.scenario && s.kind !== 'actuals')}
					{about}
					{done}
					onbegin={() => (done = 0)}
					onuse={use}
				/>
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
					<Choice
						style="max-width: 190px"
						class="choice"
						value=""
						onpick={(key) => {
							if (key && !chosen.includes(key)) chosen = [...chosen, key];
							return false;
						}}
					>
						<option value="">…</option>
						{#each measureItems.filter((m) => !shownKeys.includes(m.value)) as m (m.value)}<option
								value={m.value}>{m.name}</option
							>{/each}
					</Choice>
				</label>
			</section>
		</div>
	</div>
	{#if dialog}
		<AdjustmentDialog
			adjustment={dialog.adjustment}
			adjustables={whatIf.adjustables}
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
	.more {
		display: block;
		margin-top: 8px;
		color: var(--ink-2);
		font-size: 12px;
	}
</style>
