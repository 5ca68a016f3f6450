<script lang="ts" generics="C">
	import { untrack, type Snippet } from 'svelte';
	import { ApiError, type Fault } from '../kit/api';
	import { broughtText } from '../kit/brought';
	import Dialog from '../kit/Dialog.svelte';
	import Faults from '../kit/Faults.svelte';
	import FileButton from '../kit/form/FileButton.svelte';
	import Label from '../kit/form/Label.svelte';
	import Textarea from '../kit/form/Textarea.svelte';
	import Halves from '../kit/Halves.svelte';
	import { Newest } from '../kit/newest';
	import { counted } from '../writing/count';

	/** Loads a list that is pasted, or from a CSV or XLSX file; what would change is shown while it stands there. */
	interface Found {
		/** Lines that were read. */
		read: number;
		changes: readonly C[];
	}
	interface Props {
		title: string;
		label: string;
		example: string;
		/** Tries a list (`dry`), or takes it. @throws ApiError */
		ask: (text: string, dry: boolean) => Promise<Found>;
		/** What is said before anything is pasted, of all that changes, and of one change, in a row. */
		hint: Snippet;
		says: (changes: readonly C[]) => string;
		change: Snippet<[C]>;
		/** Told how many lines have changed something. */
		ondone: (count: number) => void;
		onclose: () => void;
	}
	let { title, label, example, ask, hint, says, change, ondone, onclose }: Props = $props();
	let text = $state('');
	let shown = $state.raw<Found | null>(null);
	let problem = $state.raw<{ message: string; faults: Fault[] } | null>(null);
	let busy = $state(false);
	/** Of the file that was chosen last. */
	let said = $state('');
	const MOST_SHOWN = 500;
	const newest = new Newest();

	$effect(() => {
		void text;
		untrack(() => {
			newest.drop();
			if (!text.trim()) [shown, problem] = [null, null];
			else newest.run(look);
		});
	});
	const told = (e: unknown) =>
		e instanceof ApiError
			? { message: e.message, faults: e.faults }
			: { message: 'It was not loaded.', faults: [] };
	async function choose(file: File) {
		try {
			({ content: text, said } = await broughtText(file));
		} catch (e) {
			problem = told(e);
		}
	}
	async function look() {
		try {
			[shown, problem] = [await ask(text, true), null];
		} catch (e) {
			[shown, problem] = [null, told(e)];
		}
	}
	async function load() {
		if (!text.trim()) {
			problem = { message: 'Paste the list, or choose a file.', faults: [] };
			return;
		}
		busy = true;
		try {
			ondone((await ask(text, false)).changes.length);
		} catch (e) {
			problem = told(e);
		} finally {
			busy = false;
		}
	}
</script>

<Dialog {title} action="Load" size="lg" disabled={busy} onaction={load} {onclose}>
	<Halves>
		<div>
			<Label for="list-text">{label}</Label>
			<Textarea id="list-text" rows={10} bind:value={text} placeholder={example} />
			<FileButton label="or choose a CSV or XLSX file" accept=".csv,.txt,.tsv,.xlsx" onfile={choose} />
			{#if said}<p class="muted" role="status">{said}</p>{/if}
		</div>
		<div>
			{#if shown}
				<p>
					{counted(shown.read, 'line')} read: {shown.changes.length
						? says(shown.changes)
						: 'nothing differs from what is there'}.
				</p>
				<ul aria-label="What changes">
					{#each shown.changes.slice(0, MOST_SHOWN) as each, i (i)}<li>{@render change(each)}</li>{/each}
				</ul>
				{#if shown.changes.length > MOST_SHOWN}
					<p class="muted">and {shown.changes.length - MOST_SHOWN} more</p>
				{/if}
			{:else if !problem}<p class="muted">{@render hint()}</p>{/if}
			{#if problem}<Faults message={problem.message} faults={problem.faults} />{/if}
		</div>
	</Halves>
</Dialog>

<style>
	ul {
		max-height: 320px;
		overflow-y: auto;
	}
	li {
		display: grid;
		grid-auto-flow: column;
		grid-auto-columns: 1fr;
		gap: 10px;
		border-bottom: 1px solid var(--rule);
		padding: 3px 0;
	}
</style>
