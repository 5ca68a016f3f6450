<script lang="ts">
	import Tick from '../kit/form/Tick.svelte';
	import Dialog from '../kit/Dialog.svelte';
	import { onDestroy, untrack } from 'svelte';
	import type { FormulaError } from '../../core/formula/ast';
	import type { Names } from '../../core/formula/check';
	import type { Calendar } from '../../core/calendar/calendar';
	import type { Span } from '../../core/calendar/spans';
	import type { Line, ModelDefinition } from '../../core/blocks/driver-model/schema';
	import { EACH_ROW, LINES } from '../../core/views/arrangement';
	import { ApiError, post } from '../kit/api';
	import { DesignPreview } from '../design/design-preview.svelte';
	import type { ModelFigures } from '../../core/views/model-view';
	import { previewThread } from './preview-thread';
	import ResultStrip from '../design/ResultStrip.svelte';
	import FormulaField from '../design/FormulaField.svelte';
	import { notices } from '../kit/notices.svelte';
	import { reread } from '../kit/reread';
	import Choice from '../kit/form/Choice.svelte';

	interface Props {
		/** In whose periods the model is kept. */
		calendar: Calendar;
		scenario: string;
		scenarioName: string;
		/** As it is saved. */
		definition: ModelDefinition;
		/** Months for which the result is shown. */
		window: Span;
		line: Line;
		names: Names;
		also: { code: string; name: string }[];
		editable: boolean;
		reason: string;
		onclose: () => void;
	}
	let {
		calendar,
		scenario,
		scenarioName,
		definition,
		window,
		line,
		names,
		also,
		editable,
		reason,
		onclose
	}: Props = $props();
	let text = $state(untrack(() => line.formula ?? ''));
	let errors: FormulaError[] = $state([]);
	let chosen: string[] = $state([]);
	let problem = $state('');
	let busy = $state(false);
	/** What the line is declared to hold. */
	const lineResult = $derived(names.own.lines.find((l) => l.code === line.code)?.quantity);

	// What it gives, as it is written, for one row or all of them.
	const thread = previewThread();
	const preview = new DesignPreview<ModelFigures>(thread);
	onDestroy(() => preview.close());
	/** So many periods fit side by side. */
	const MOST_SHOWN = 12;
	const spans = $derived.by(() => {
		const to = Math.min(window.to, window.from + MOST_SHOWN - 1);
		const months = Array.from({ length: to - window.from + 1 }, (_, i) => window.from + i);
		return [...months.map((p) => ({ from: p, to: p })), { from: window.from, to }];
	});
	let row = $state('');
	$effect(() => {
		if (errors.length || !text.trim()) return preview.clear();
		const draft = {
			...definition,
			lines: definition.lines.map((l) => (l.code === line.code ? { ...l, formula: text } : l))
		};
		const query = {
			model: definition.code,
			rows: definition.dimensions.length ? [LINES, EACH_ROW] : [LINES],
			lines: [line.code],
			open: [line.code],
			spans: $state.snapshot(spans)
		};
		const designed = $state.snapshot(draft) as ModelDefinition;
		untrack(() => preview.show(() => thread.ask({ scenario }, 0, (work) => work.designed(designed, query))));
	});
	const rows = $derived(preview.figures?.rows ?? []);
	const result = $derived(rows.find((r) => r.key === row) ?? rows[0]);

	async function save() {
		busy = true;
		problem = '';
		try {
			await post(`models/${definition.code}/formula`, {
				scenario,
				line: line.code,
				formula: text,
				also: chosen
			});
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
		{#if preview.problem && !problem}<p class="errors">{preview.problem}</p>
		{:else if result}
			<div class="result">
				{#if rows.length > 1}
					<label
						>Result for
						<Choice bind:value={row}>
							<option value="">all rows together</option>
							{#each rows.slice(1) as r (r.key)}<option value={r.key}>{r.label}</option>{/each}
						</Choice>
					</label>
				{/if}
				<ResultStrip head="" name="gives" cells={result.cells} {spans} {calendar} format={line.format} />
			</div>
		{/if}
		{#if !editable}<p class="muted">{reason}</p>
		{:else if also.length}
			<fieldset>
				<legend>It changes in {scenarioName}. Change it also in</legend>
				{#each also as s (s.code)}<Tick value={s.code} bind:group={chosen}>{s.name}</Tick>{/each}
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
	.result {
		display: grid;
		gap: 6px;
	}
	.result label {
		display: flex;
		gap: 8px;
		align-items: center;
		color: var(--ink-2);
	}
	fieldset {
		display: grid;
		gap: 4px;
	}
	legend {
		padding-bottom: 4px;
	}
</style>
