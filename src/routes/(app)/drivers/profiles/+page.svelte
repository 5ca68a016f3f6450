<script lang="ts">
	import Button from '$lib/ui/kit/form/Button.svelte';
	import Input from '$lib/ui/kit/form/Input.svelte';
	import Label from '$lib/ui/kit/form/Label.svelte';
	import { untrack } from 'svelte';
	import type { Profile } from '$lib/core/inputs/schema';
	import { ApiError, post, remove } from '$lib/ui/kit/api';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import Dialog from '$lib/ui/kit/Dialog.svelte';
	import { EditBatch } from '$lib/ui/grid/editing/edits.svelte';
	import Grid from '$lib/ui/grid/Grid.svelte';
	import type { MenuItem } from '$lib/ui/kit/menu';
	import type { CellOf, GridColumn, GridRow } from '$lib/ui/grid/types';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import SaveBar from '$lib/ui/entry/SaveBar.svelte';

	let { data } = $props();
	const company = useCompany();
	const { calendar } = company;
	const editable = $derived(data.may['change driver models']);
	const edits = new EditBatch();
	let saving = $state(false);
	/** The profile that is named: a new one has no code. */
	let naming = $state<{ profile: Profile | null; name: string; problem: string } | null>(null);

	const year = untrack(() => calendar.yearStart(calendar.fiscalYear(data.selection.from)));
	const places = Array.from({ length: calendar.periodsPerYear }, (_, i) => i);
	const columns: GridColumn[] = [
		{ key: 'shape', label: 'Shape', width: 68, kind: 'shape' },
		...places.map((i): GridColumn => ({
			key: String(i),
			label: calendar.shortLabel(year + i),
			width: 66,
			kind: 'figure'
		})),
		{ key: 'total', label: 'Total', width: 74, kind: 'figure', apart: true }
	];
	const byCode = $derived(new Map(data.profiles.map((p) => [p.code, p])));
	const rows: GridRow[] = $derived(
		data.profiles.map((p) => ({ key: p.code, label: p.name, kind: 'leaf', format: 'percent' }))
	);
	/** Weights with what is typed and not saved. */
	const weightsOf = (p: Profile) =>
		p.weights.map((w, i) => {
			const edit = edits.at(p.code, String(i));
			return edit ? (edit.value ?? 0) : w;
		});
	const cell: CellOf = (row, column) => {
		const profile = byCode.get(row.key);
		if (!profile) return undefined;
		const weights = weightsOf(profile);
		if (column.key === 'shape') return { value: null, values: weights };
		if (column.key === 'total')
			return {
				value: weights.reduce((a, b) => a + b, 0),
				preview: edits.list.some((e) => e.row === row.key),
				reason: `The sum of the ${calendar.words.many}. It need not be 100 %: only the proportion of the ${calendar.words.many} counts.`
			};
		const saved = profile.weights[Number(column.key)];
		return {
			value: saved,
			typed: saved,
			editable,
			reason: 'Your role reads profiles; it does not change them.'
		};
	};
	const menu = (row: GridRow): MenuItem[] => {
		const profile = byCode.get(row.key);
		if (!profile || !editable) return [];
		return [
			{ label: 'Rename …', act: () => (naming = { profile, name: profile.name, problem: '' }) },
			{ label: 'Remove', act: () => void takeOut(profile) }
		];
	};
	async function save() {
		saving = true;
		try {
			const sent = edits.send();
			for (const code of new Set(sent.map((e) => e.row))) {
				const profile = byCode.get(code)!;
				const weights = profile.weights.map((w, i) => {
					const edit = sent.find((e) => e.row === code && e.column === String(i));
					return edit ? (edit.value ?? 0) : w;
				});
				await post('profiles', { ...profile, weights });
			}
			await reread();
			edits.saved();
			notices.say('The profiles are saved. What was spread by them stays as it is.');
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'The profiles were not saved.', true);
		} finally {
			saving = false;
		}
	}
	async function name() {
		if (!naming) return;
		const { profile } = naming;
		const weights = profile?.weights ?? places.map(() => Math.round(1e6 / places.length) / 1e6);
		try {
			await post('profiles', { code: profile?.code ?? null, name: naming.name, weights });
			naming = null;
			await reread();
		} catch (e) {
			if (naming) naming.problem = e instanceof ApiError ? e.message : 'This was not saved.';
		}
	}
	async function takeOut(profile: Profile) {
		try {
			await remove(`profiles/${profile.code}`);
			await reread();
			notices.say(`“${profile.name}” is removed. What was spread by it stays as it is.`, false, {
				label: 'Undo',
				run: () => void post('profiles', { ...profile, code: null }).then(() => reread())
			});
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'Nothing was removed.', true);
		}
	}
</script>

<svelte:head><title>Seasonal profiles · Yardstave</title></svelte:head>

<div class="top">
	<div>
		<h1>Seasonal profiles</h1>
		<p class="muted">
			<a class="plain" href={withSelection('/drivers', data.selection, calendar)}>All drivers</a> · Kept shapes
			of the year. A total that is typed can be spread by one of them.
		</p>
	</div>
	{#if editable}
		<div class="actions">
			{#if data.profiles.length}<SaveBar {edits} {saving} onsave={save} />{/if}
			<Button quiet onclick={() => (naming = { profile: null, name: '', problem: '' })}>New profile …</Button>
		</div>
	{/if}
</div>
{#if data.profiles.length}
	<Grid
		label="Seasonal profiles"
		head="Profile"
		{columns}
		{rows}
		{cell}
		{calendar}
		open={0}
		figures={data.figures}
		edits={editable ? edits : undefined}
		labelWidth={190}
		{menu}
		onsay={(m) => notices.say(m)}
	/>
	<p class="hint muted">
		Only the proportion of the {calendar.words.many} counts. The menu of a row renames or removes it.
	</p>
{:else}
	<p class="muted">
		There is no profile yet. Make one here, or keep the shape of a year where a total is typed: in a plan, a
		driver model or the targets.
	</p>
{/if}
{#if naming}
	<Dialog
		title={naming.profile ? `Rename ${naming.profile.name}` : 'New profile'}
		action={naming.profile ? 'Rename' : 'Make it'}
		disabled={!naming.name.trim()}
		problem={naming.problem}
		form="profile"
		onclose={() => (naming = null)}
	>
		<form
			id="profile"
			onsubmit={(e) => {
				e.preventDefault();
				void name();
			}}
		>
			<Label for="profile-name">Name</Label>
			<Input id="profile-name" maxlength={80} bind:value={naming.name} />
			{#if !naming.profile}<p class="muted">
					Every {calendar.words.one} begins with the same weight; type your own.
				</p>{/if}
		</form>
	</Dialog>
{/if}

<style>
	form {
		display: grid;
		gap: 6px;
	}
</style>
