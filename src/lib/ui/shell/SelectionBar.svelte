<script lang="ts">
	import { yearFrom } from '../../core/calendar/spans';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { FIGURES } from '../writing/format';
	import { remember, useCompany, type FrameData } from './company';
	import { ApiError, post } from '../kit/api';
	import { live } from './live.svelte';
	import { notices } from '../kit/notices.svelte';
	import { reread } from '../kit/reread';
	import PasswordDialog from './PasswordDialog.svelte';
	import ScenarioOptions from './ScenarioOptions.svelte';
	import TokensDialog from './TokensDialog.svelte';
	import WindowDialog from './WindowDialog.svelte';
	import Choice from '../kit/form/Choice.svelte';
	import TextButton from '../kit/form/TextButton.svelte';

	let { ongoto }: { ongoto: () => void } = $props();
	const company = useCompany();
	const data = $derived(company.data);
	const { calendar } = company;
	const scenario = $derived(data.scenarios.find((s) => s.code === data.selection.scenario));
	const department = $derived(data.departments.find((d) => d.code === data.selection.department));
	const reporting = $derived(data.company.currency);
	/** Pages that show accounts of departments. */
	const inMoney = $derived(/^\/(plan|compare|forecast\/what-if)/.test(page.url.pathname));

	function choose(change: Partial<FrameData['selection']>) {
		const url = new URL(page.url);
		const s = { ...data.selection, ...change };
		url.searchParams.set('scenario', s.scenario);
		url.searchParams.set('department', s.department);
		url.searchParams.set('from', calendar.key(s.from));
		url.searchParams.set('to', calendar.key(s.to));
		if (change.money) url.searchParams.set('money', change.money);
		// What is shown in its own currency is so wherever there is one.
		else if (change.department && data.selection.money === 'local') url.searchParams.delete('money');
		void goto(url, { keepFocus: true, noScroll: true });
	}
	function chooseScenario(code: string) {
		const next = data.scenarios.find((s) => s.code === code);
		if (!next) return;
		// The window follows when the new scenario has nothing in it.
		const apart = next.first > data.selection.to || next.last < data.selection.from;
		choose(apart ? { scenario: code, ...yearFrom(calendar, next.first, next.last) } : { scenario: code });
	}
	const windows = $derived.by(() => {
		const years = new Set<number>();
		for (const s of data.scenarios) for (const p of [s.first, s.last]) years.add(calendar.fiscalYear(p));
		const list = [...years]
			.sort((a, b) => a - b)
			.map((y) => ({ ...yearFrom(calendar, calendar.yearStart(y)), name: calendar.yearLabel(y) }));
		const add = (from: number, to: number, name: string) => {
			if (!list.some((w) => w.from === from && w.to === to)) list.push({ from, to, name });
		};
		if (scenario?.actualsThrough) {
			const { from, to } = yearFrom(calendar, scenario.actualsThrough + 1);
			if (scenario.last >= to) add(from, to, 'The year ahead');
		}
		add(data.selection.from, data.selection.to, '');
		return list;
	});
	/** Asks for any months. */
	const OTHER_MONTHS = 'other';
	let choosingMonths = $state(false);
	const shownWindow = $derived(`${data.selection.from}:${data.selection.to}`);
	/** The list goes on showing the window that there is. */
	function chooseWindow(value: string): false {
		if (value === OTHER_MONTHS) {
			choosingMonths = true;
		} else {
			const [from, to] = value.split(':').map(Number);
			choose({ from, to });
		}
		return false;
	}
	const label = (w: { from: number; to: number; name: string }) =>
		`${calendar.label(w.from)} – ${calendar.label(w.to)}${w.name ? ` (${w.name})` : ''}`;
	const initialsOf = (name: string) =>
		name
			.split(/\s+/)
			.map((w) => w[0])
			.join('')
			.slice(0, 2);
	const initials = $derived(initialsOf(data.user.name));
	/** The stage of the work that a page belongs to. */
	const stageOf = (path: string) =>
		data.stages.find((s) => path.startsWith(s.href))?.name ?? 'the application';
	let menu: HTMLDetailsElement | undefined = $state();
	let changing = $state<'password' | 'tokens' | null>(null);

	function setTheme(theme: string) {
		remember('theme', theme);
		document.documentElement.classList.toggle('dark', theme === 'dark');
		void reread();
	}
	async function setStyle(change: Record<string, string>) {
		try {
			await post('me/preferences', change);
			await reread();
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'This was not kept.', true);
		}
	}
	function setFigures(value: string) {
		remember('figures', value);
		void reread();
	}
</script>

<header>
	<label>
		<span>Scenario</span>
		<Choice bare value={data.selection.scenario} onpick={(v) => chooseScenario(v)}>
			<ScenarioOptions scenarios={data.scenarios} />
		</Choice>
	</label>
	<label>
		<span>Department</span>
		<Choice bare value={data.selection.department} onpick={(v) => choose({ department: v })}>
			{#each data.departments as d (d.code)}
				<option value={d.code}>{'\u00a0\u00a0'.repeat(d.depth)}{d.name}</option>
			{/each}
		</Choice>
	</label>
	<label>
		<span>Window</span>
		<Choice bare value={shownWindow} onpick={chooseWindow}>
			{#each windows as w (`${w.from}:${w.to}`)}
				<option value="{w.from}:{w.to}">{label(w)}</option>
			{/each}
			<option value={OTHER_MONTHS}>Other {calendar.words.many} …</option>
		</Choice>
	</label>
	{#if inMoney && department && department.currency !== reporting}
		<label>
			<span>In</span>
			<Choice
				bare
				value={data.selection.money}
				onpick={(v) => choose({ money: v as FrameData['selection']['money'] })}
			>
				<option value="local">{department.currency ?? 'own currencies'}</option>
				<option value="reporting">{reporting}</option>
			</Choice>
		</label>
	{/if}
	<button class="goto" onclick={ongoto} aria-label="Go to or do"
		><span>Go to or do</span> <kbd>Ctrl K</kbd></button
	>
	{#if live.present.length}
		<ul class="present" aria-label="Also in this scenario">
			{#each live.present.slice(0, 4) as p (p.name)}
				<li title="{p.name} is here too, in {stageOf(p.at)}">
					<span aria-hidden="true">{initialsOf(p.name)}</span><span class="sr-only"
						>{p.name}, in {stageOf(p.at)}</span
					>
				</li>
			{/each}
			{#if live.present.length > 4}<li>+{live.present.length - 4}</li>{/if}
		</ul>
	{/if}
	<details bind:this={menu}>
		<summary aria-label="{data.user.name}, settings and sign out">{initials}</summary>
		<div class="menu">
			<b>{data.user.name}</b>
			<span class="muted">{data.user.role} · {data.company.name}</span>
			<label class="line"
				>Figures
				<Choice value={data.figures} onpick={(v) => setFigures(v)}>
					{#each FIGURES as f (f.value)}<option value={f.value}>{f.name}</option>{/each}
				</Choice>
			</label>
			<label class="line"
				>Decimals
				<Choice value={data.style.decimal} onpick={(v) => setStyle({ decimal: v })}>
					<option value=".">1,234.50</option>
					<option value=",">1.234,50</option>
				</Choice>
			</label>
			<label class="line"
				>Negatives
				<Choice value={data.style.negative} onpick={(v) => setStyle({ negative: v })}>
					<option value="minus">−1</option>
					<option value="brackets">(1)</option>
				</Choice>
			</label>
			<label class="line"
				>Rows
				<Choice value={data.style.density} onpick={(v) => setStyle({ density: v })}>
					<option value="roomy">Roomy</option>
					<option value="dense">Dense</option>
				</Choice>
			</label>
			<label class="line"
				>Look
				<Choice value={data.theme} onpick={(v) => setTheme(v)}>
					<option value="light">Light</option>
					<option value="dark">Dark</option>
				</Choice>
			</label>
			{#if data.passwords}<TextButton
					class="text-left"
					onclick={() => {
						menu!.open = false;
						changing = 'password';
					}}>Change password …</TextButton
				>{/if}
			<TextButton
				class="text-left"
				onclick={() => {
					menu!.open = false;
					changing = 'tokens';
				}}>Access tokens …</TextButton
			>
			<form method="POST" action="/signout"><button class="out">Sign out</button></form>
		</div>
	</details>
</header>
{#if changing === 'password'}<PasswordDialog onclose={() => (changing = null)} />{/if}
{#if changing === 'tokens'}<TokensDialog onclose={() => (changing = null)} />{/if}
{#if choosingMonths}
	<WindowDialog
		window={data.selection}
		onchoose={(window) => {
			choosingMonths = false;
			choose(window);
		}}
		onclose={() => (choosingMonths = false)}
	/>
{/if}

<svelte:window
	onclick={(e) => {
		if (menu?.open && !menu.contains(e.target as Node)) menu.open = false;
	}}
	onkeydown={(e) => {
		if (e.key === 'Escape' && menu?.open) menu.open = false;
	}}
/>

<style>
	header {
		display: flex;
		align-items: center;
		gap: 10px;
		padding: 9px 18px;
		border-bottom: 1px solid var(--rule);
		min-width: 0;
	}
	header > label {
		display: flex;
		align-items: center;
		border: 1px solid var(--rule-strong);
		border-radius: 6px;
		background: var(--sheet);
		padding-left: 10px;
		min-width: 0;
	}
	header > label > span {
		font-size: 12px;
		color: var(--ink-2);
	}
	option {
		background: var(--sheet);
		color: var(--ink);
	}
	.goto {
		margin-left: auto;
		display: flex;
		gap: 40px;
		align-items: center;
		border: 1px solid var(--rule);
		background: var(--tint);
		color: var(--ink-2);
		border-radius: 6px;
		padding: 5px 10px;
		font-size: 13px;
		white-space: nowrap;
	}
	.present {
		display: flex;
		gap: 4px;
	}
	.present li {
		width: 28px;
		height: 28px;
		border-radius: 50%;
		border: 1px solid var(--rule-strong);
		display: grid;
		place-items: center;
		color: var(--ink-2);
		background: var(--sheet);
		font-weight: 600;
		font-size: 11px;
	}
	details {
		position: relative;
	}
	summary {
		list-style: none;
		width: 32px;
		height: 32px;
		border-radius: 50%;
		display: grid;
		place-items: center;
		background: var(--green-tint);
		color: var(--green);
		font-weight: 600;
		font-size: 12px;
		cursor: pointer;
	}
	.menu {
		position: absolute;
		right: 0;
		top: 38px;
		z-index: 30;
		width: 240px;
		display: flex;
		flex-direction: column;
		gap: 8px;
		background: var(--sheet);
		border: 1px solid var(--rule-strong);
		border-radius: 6px;
		padding: 12px 14px;
		box-shadow: 0 8px 24px var(--shade);
	}
	.line {
		display: flex;
		justify-content: space-between;
		align-items: center;
	}
	.out {
		color: var(--green);
		text-decoration: underline;
	}
</style>
