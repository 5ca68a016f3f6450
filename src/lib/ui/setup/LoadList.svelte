<script lang="ts" generics="T extends { changes: readonly unknown[] }">
	import { untrack, type Snippet } from 'svelte';
	import { ApiError, type Fault } from '../kit/api';
	import Dialog from '../kit/Dialog.svelte';
	import Faults from '../kit/Faults.svelte';
	import FileButton from '../kit/form/FileButton.svelte';
	import Label from '../kit/form/Label.svelte';
	import Textarea from '../kit/form/Textarea.svelte';
	import { Newest } from '../kit/newest';

	/** Loads a list that is pasted, or from a CSV file; what would change is shown while it stands there. */
	interface Props {
		title: string;
		label: string;
		example: string;
		/** Tries a list (`dry`), or takes it. @throws ApiError */
		ask: (text: string, dry: boolean) => Promise<T>;
		/** What is said before anything is pasted, and of what was found. */
		hint: Snippet;
		found: Snippet<[T]>;
		/** Told how many lines have changed something. */
		ondone: (count: number) => void;
		onclose: () => void;
	}
	let { title, label, example, ask, hint, found, ondone, onclose }: Props = $props();
	let text = $state('');
	let shown = $state.raw<T | null>(null);
	let problem = $state.raw<{ message: string; faults: Fault[] } | null>(null);
	let busy = $state(false);
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
	<div class="two">
		<div>
			<Label for="list-text">{label}</Label>
			<Textarea id="list-text" rows={10} bind:value={text} placeholder={example} />
			<FileButton label="or choose a CSV file" onfile={(file) => void file.text().then((t) => (text = t))} />
		</div>
		<div>
			{#if shown}{@render found(shown)}{:else if !problem}{@render hint()}{/if}
			{#if problem}<Faults message={problem.message} faults={problem.faults} />{/if}
		</div>
	</div>
</Dialog>

<style>
	.two {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 10px 20px;
	}
	.two > div {
		display: grid;
		align-content: start;
		gap: 8px;
	}
	.two :global(ul[aria-label] > li) {
		display: grid;
		grid-auto-flow: column;
		grid-auto-columns: 1fr;
		gap: 10px;
		border-bottom: 1px solid var(--rule);
		padding: 3px 0;
	}
</style>
