<script lang="ts">
	import { Checkbox } from 'flowbite-svelte';
	import Dialog from './Dialog.svelte';
	import { untrack } from 'svelte';
	import type { FormulaError } from '../core/formula/ast';
	import type { Names } from '../core/formula/check';
	import type { Line } from '../core/model/schema';
	import { ApiError, post } from './api';
	import FormulaField from './FormulaField.svelte';
	import { notices } from './notices.svelte';
	import { reread } from './reread';

	interface Props {
		scenario: string;
		scenarioName: string;
		model: string;
		line: Line;
		names: Names;
		also: { code: string; name: string }[];
		editable: boolean;
		reason: string;
		onclose: () => void;
	}
	let { scenario, scenarioName, model, line, names, also, editable, reason, onclose }: Props = $props();
	let text = $state(untrack(() => line.formula ?? ''));
	let errors: FormulaError[] = $state([]);
	let chosen: string[] = $state([]);
	let problem = $state('');
	let busy = $state(false);
	/** What the line is declared to hold. */
	const lineResult = $derived(names.own.lines.find((l) => l.code === line.code)?.quantity);

	async function save() {
		busy = true;
		problem = '';
		try {
			await post(`models/${model}/formula`, { scenario, line: line.code, formula: text, also: chosen });
			await reread();
			notices.say(
				`${line.label} has a new formula in ${scenarioName}${chosen.length ? ` and ${chosen.length} more` : ''}.`
			);
			onclose();
		} catch (e) {
			problem = e instanceof ApiError ? e.message : 'The formula was not saved.';
		} finally {
			busy = false;
		}
	}
</script>

<Dialog
	title="Formula of {line.label}"
	action={busy ? 'Calculating …' : 'Save formula'}
	size="lg"
	disabled={!editable || busy || errors.length > 0 || text === line.formula}
	onaction={save}
	{onclose}
>
	<div class="form">
		<FormulaField
			bind:value={text}
			{names}
			result={lineResult}
			label="Formula of {line.label}"
			onerrors={(e) => (errors = e)}
		/>
		{#if errors.length}
			<ul class="errors" role="alert">
				{#each errors as e (e.message + e.span.from)}<li>
						At character {e.span.from + 1}: {e.message}
					</li>{/each}
			</ul>
		{:else if problem}<p class="errors" role="alert">{problem}</p>
		{:else}<p class="muted">Lines of this model by name, others as model.line. Ctrl+Space completes.</p>{/if}
		{#if !editable}<p class="muted">{reason}</p>
		{:else if also.length}
			<fieldset>
				<legend>It changes in {scenarioName}. Change it also in</legend>
				{#each also as s (s.code)}<Checkbox value={s.code} bind:group={chosen}>{s.name}</Checkbox>{/each}
			</fieldset>
		{/if}
	</div>
</Dialog>

<style>
	.form {
		display: grid;
		gap: 10px;
	}
	.errors {
		color: var(--clay);
		font-weight: 600;
	}
	fieldset {
		display: grid;
		gap: 4px;
	}
	legend {
		padding-bottom: 4px;
	}
</style>
