<script lang="ts">
	import { counted } from '../../writing/count';
	import type { ModelDefinition } from '../../../core/blocks/driver-model/schema';
	import type { DimensionView } from '../../../core/views/dimension-view';
	import { ApiError, get, post } from '../../kit/api';
	import { useCompany } from '../../shell/company';
	import Dialog from '../../kit/Dialog.svelte';
	import Tick from '../../kit/form/Tick.svelte';

	/** Adds rows to a model: every combination of the members that are ticked. */
	interface Props {
		model: ModelDefinition;
		ondone: (words: string) => void;
		onclose: () => void;
	}
	let { model, ondone, onclose }: Props = $props();
	const company = useCompany();
	interface Choice {
		code: string;
		name: string;
		members: { code: string; name: string }[];
	}
	let choices: Choice[] = $state.raw([]);
	let ticked: Record<string, string[]> = $state({});
	let problem = $state('');
	let busy = $state(false);
	const count = $derived(choices.reduce((n, c) => n * (ticked[c.code]?.length ?? 0), choices.length ? 1 : 0));

	$effect(() => {
		void get<{ dimensions: DimensionView[] }>('dimensions').then(
			({ dimensions }) => {
				choices = model.dimensions.map((code) => {
					if (code === 'department')
						return { code, name: 'Department', members: company.data.departments.filter((d) => d.leaf) };
					const found = dimensions.find((d) => d.code === code)!;
					return { code, name: found.name, members: found.members.filter((m) => m.leaf && m.offered) };
				});
				ticked = Object.fromEntries(choices.map((c) => [c.code, []]));
			},
			(e: unknown) => (problem = e instanceof ApiError ? e.message : 'The members could not be read.')
		);
	});
	function toggle(dimension: string, codes: string[], on: boolean) {
		const rest = ticked[dimension].filter((c) => !codes.includes(c));
		ticked[dimension] = on ? [...rest, ...codes] : rest;
	}
	async function add() {
		const rows = choices.reduce<string[][]>(
			(some, c) => some.flatMap((row) => ticked[c.code].map((m) => [...row, m])),
			[[]]
		);
		busy = true;
		problem = '';
		try {
			const answer = await post<{ rows: number; blocked: number; rules: string[] }>(
				`models/${model.code}/rows`,
				{ action: 'add', rows, leaveOut: true }
			);
			const many = (n: number) => counted(n, 'row');
			const left = answer.blocked
				? ` ${many(answer.blocked)} left out by the combination ${answer.rules.length === 1 ? 'rule' : 'rules'} ${answer.rules.map((r) => `“${r}”`).join(', ')}.`
				: '';
			if (answer.rows) ondone(`${many(answer.rows)} added, blank in every scenario.${left}`);
			else if (left) problem = `Nothing was added.${left}`;
			else ondone('All of these rows are there already.');
		} catch (e) {
			problem = e instanceof ApiError ? e.message : 'The rows were not added.';
		} finally {
			busy = false;
		}
	}
</script>

<Dialog
	title="Add rows to {model.name}"
	action={busy ? 'Adding …' : count === 0 ? 'Add rows' : `Add ${counted(count, 'row')}`}
	size="lg"
	disabled={busy || count === 0 || count > 20_000}
	{problem}
	onaction={add}
	{onclose}
>
	<p class="muted">
		Every combination of what is ticked; those that are there already stay as they are, and those that a
		combination rule blocks are left out.
	</p>
	<div class="sides" style:--n={choices.length}>
		{#each choices as c (c.code)}
			{@const all = c.members.map((m) => m.code)}
			<fieldset>
				<legend
					><Tick checked={ticked[c.code]?.length === all.length} onpick={(on) => toggle(c.code, all, on)}
						>{c.name}</Tick
					></legend
				>
				<ul>
					{#each c.members as m (m.code)}
						<li>
							<Tick checked={ticked[c.code]?.includes(m.code)} onpick={(on) => toggle(c.code, [m.code], on)}
								>{m.name}</Tick
							>
						</li>
					{/each}
				</ul>
			</fieldset>
		{/each}
	</div>
</Dialog>

<style>
	.sides {
		display: grid;
		grid-template-columns: repeat(var(--n), minmax(0, 1fr));
		gap: 16px;
		margin-top: 10px;
	}
	legend {
		font-weight: 600;
		margin-bottom: 4px;
	}
	ul {
		border: 1px solid var(--rule);
		border-radius: 5px;
		max-height: 260px;
		overflow: auto;
		padding: 4px 6px;
		background: var(--sheet);
	}
</style>
