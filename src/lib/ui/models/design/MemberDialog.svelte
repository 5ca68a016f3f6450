<script lang="ts">
	import { digits } from '../../writing/count';
	import { ownValue } from '$lib/core/text';
	import Tick from '../../kit/form/Tick.svelte';
	import Input from '../../kit/form/Input.svelte';
	import Label from '../../kit/form/Label.svelte';
	import Select from '../../kit/form/Select.svelte';
	import { untrack } from 'svelte';
	import type { DimensionView } from '../../../core/views/dimension-view';
	import { ApiError, patch, post } from '../../kit/api';
	import Dialog from '../../kit/Dialog.svelte';
	import { choosable } from './design';
	import { readFigure } from '../../writing/format';
	import Field from '../../kit/form/Field.svelte';
	import TextButton from '../../kit/form/TextButton.svelte';

	/** Adds a member like another, or changes one. */
	interface Props {
		dimension: DimensionView;
		/** Null for a new one. */
		member: DimensionView['members'][number] | null;
		/** Where it stands, for a new one. */
		parent?: string | null;
		/** Open scenarios, the chosen one first. */
		scenarios: readonly { code: string; name: string }[];
		ondone: (words: string) => void;
		onclose: () => void;
	}
	let { dimension, member, parent: under = null, scenarios, ondone, onclose }: Props = $props();

	let name = $state(untrack(() => member?.name ?? ''));
	let parent = $state(untrack(() => (member ? member.parent : under) ?? ''));
	let attributes: Record<string, string> = $state(untrack(() => ({ ...member?.attributes })));
	let like = $state('');
	let chosen: string[] = $state(untrack(() => scenarios.slice(0, 1).map((s) => s.code)));
	/** Lines as model.line → what part of the other's figures, in percent. */
	let taken: Record<string, string> = $state({});
	let newAttribute = $state('');
	let problem = $state('');
	let busy = $state(false);
	const noun = $derived(dimension.name.toLowerCase());
	const attributeNames = $derived([...new Set([...dimension.attributes, ...Object.keys(attributes)])]);
	const lines = $derived(
		dimension.models.flatMap((m) =>
			m.lines.map((l) => ({ key: `${m.code}.${l.code}`, name: `${m.name}: ${l.label}` }))
		)
	);
	const siblings = $derived(dimension.members.filter((m) => m.leaf && m.rows > 0 && m.offered));
	/** Attributes of the members above, which it gets where it has none of its own. */
	const inherited = $derived.by(() => {
		const above = dimension.members.find((m) => m.code === parent);
		return { ...above?.inherited, ...above?.attributes } as Record<string, string>;
	});

	function choose(code: string) {
		like = code;
		const other = dimension.members.find((m) => m.code === code);
		if (!other) return;
		parent = other.parent ?? '';
		attributes = { ...other.attributes };
		taken = Object.fromEntries(lines.map((l) => [l.key, '100']));
	}
	function addAttribute() {
		const code = newAttribute.trim();
		if (!/^[A-Za-z_][A-Za-z0-9_]*$/.test(code)) {
			problem = 'An attribute’s name has letters, digits and underscore; formulas use it.';
			return;
		}
		problem = '';
		attributes = { ...attributes, [code]: ownValue(attributes, code) ?? '' };
		newAttribute = '';
	}
	async function keep() {
		if (!name.trim()) {
			problem = 'Give it a name.';
			return;
		}
		const parts = [];
		for (const [key, text] of Object.entries(taken)) {
			if (text.trim() === '') continue;
			const part = readFigure(text.replace('%', ''), 'number');
			if (typeof part !== 'number') {
				problem = `“${text}” is no percentage.`;
				return;
			}
			const [model, line] = key.split('.');
			parts.push({ model, line, factor: Number((part / 100).toPrecision(12)) });
		}
		busy = true;
		problem = '';
		const path = `dimensions/${dimension.code}/members`;
		const own = { name: name.trim(), parent: parent || null, attributes: $state.snapshot(attributes) };
		try {
			if (member) {
				await patch(`${path}/${member.code}`, own);
				ondone(`${own.name} is changed, in all scenarios.`);
			} else {
				const made = await post<{ rows: number; cells: number }>(path, {
					...own,
					...(like ? { like: { member: like, scenarios: $state.snapshot(chosen), lines: parts } } : {})
				});
				ondone(
					`${own.name} is there${made.rows ? `, with ${made.rows} rows and ${digits(made.cells)} figures` : ''}. It is in every total and report at once.`
				);
			}
		} catch (e) {
			problem = e instanceof ApiError ? e.message : 'It was not saved.';
		} finally {
			busy = false;
		}
	}
</script>

<Dialog
	title={member ? `Change ${member.name}` : `Add a ${noun}`}
	action={busy ? 'Calculating …' : member ? 'Change' : 'Add'}
	size="md"
	disabled={busy}
	{problem}
	onaction={keep}
	{onclose}
>
	<div class="form">
		{#if !member && siblings.length}
			<div>
				<Label for="member-like">Like</Label>
				<Select
					id="member-like"
					placeholder=""
					value={like}
					onchange={(e) => choose((e.currentTarget as HTMLSelectElement).value)}
					items={[
						{ value: '', name: `no other ${noun}: without rows and figures` },
						...siblings.map((m) => ({ value: m.code, name: `${m.name} (${m.rows} rows)` }))
					]}
				/>
			</div>
		{/if}
		<div class="two">
			<div>
				<Label for="member-name">Name</Label>
				<Input id="member-name" bind:value={name} />
			</div>
			<div>
				<Label for="member-parent">Belongs to</Label>
				<Select
					id="member-parent"
					placeholder=""
					bind:value={parent}
					items={[
						{ value: '', name: 'nothing above it' },
						...choosable(dimension.members, [parent])
							.filter((m) => m.code !== member?.code)
							.map((m) => ({ value: m.code, name: `${'\u00a0\u00a0'.repeat(m.depth)}${m.name}` }))
					]}
				/>
			</div>
		</div>
		<fieldset>
			<legend>Attributes</legend>
			<div class="two">
				{#each attributeNames as a (a)}
					<label
						>{a}
						<Field
							value={ownValue(attributes, a) ?? ''}
							placeholder={ownValue(inherited, a) ? `${ownValue(inherited, a)}, from above` : ''}
							oninput={(e) => (attributes[a] = e.currentTarget.value)}
						/></label
					>
				{/each}
				<label
					>another attribute
					<span class="adding">
						<Field class="min-w-0 flex-1" bind:value={newAttribute} placeholder="weight" />
						<TextButton disabled={!newAttribute.trim()} onclick={addAttribute}>add</TextButton>
					</span></label
				>
			</div>
		</fieldset>
		{#if like}
			<fieldset>
				<legend
					>Figures like {dimension.members.find((m) => m.code === like)?.name}, in percent of its own</legend
				>
				<div class="two">
					{#each lines as l (l.key)}
						<label class="part"
							>{l.name}
							<span><Field class="num" style="width: 64px" bind:value={taken[l.key]} /> %</span></label
						>
					{/each}
				</div>
				<p class="muted">Nothing typed leaves a line blank.</p>
				<div class="ways">
					{#each scenarios as s (s.code)}<Tick value={s.code} bind:group={chosen}>{s.name}</Tick>{/each}
				</div>
			</fieldset>
		{/if}
	</div>
</Dialog>

<style>
	.form {
		display: grid;
		gap: 12px;
	}
	.two {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 8px 16px;
	}
	label {
		display: grid;
		gap: 2px;
		color: var(--ink-2);
		font-size: 12.5px;
	}
	.part {
		grid-template-columns: 1fr auto;
		align-items: center;
	}
	.adding {
		display: flex;
		gap: 8px;
	}
	.ways {
		display: flex;
		flex-wrap: wrap;
		gap: 6px 20px;
		margin-top: 6px;
	}
	legend {
		font-weight: 600;
		margin-bottom: 4px;
	}
</style>
