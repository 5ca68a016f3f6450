<script lang="ts" generics="T extends TreeItem">
	import { untrack, type Snippet } from 'svelte';
	import type { TreeItem } from '../../core/company/tree';
	import TreeList from '../founding/TreeList.svelte';
	import { ApiError, post, type Fault } from '../kit/api';
	import Dialog from '../kit/Dialog.svelte';
	import Faults from '../kit/Faults.svelte';
	import Label from '../kit/form/Label.svelte';
	import Textarea from '../kit/form/Textarea.svelte';
	import Halves from '../kit/Halves.svelte';
	import { Newest } from '../kit/newest';
	import { counted } from '../writing/count';

	/** Adds one or many to a tree from a list; how they will stand is shown while they are typed. */
	interface Props {
		/** Their place in the API, and what one of them is called. */
		path: string;
		one: string;
		/** Null is the top. */
		under: TreeItem | null;
		/** What else is said of all of them. */
		also: object;
		lead: string;
		example: string;
		/** The fields for that. */
		fields: Snippet;
		/** What is said at the right of each that is shown. */
		note?: (item: T, leaf: boolean) => string;
		ondone: (made: T[]) => void;
		onclose: () => void;
	}
	let { path, one, under, also, lead, example, fields, note, ondone, onclose }: Props = $props();
	let outline = $state('');
	let shown = $state.raw<T[]>([]);
	let problem = $state.raw<{ message: string; faults: Fault[] } | null>(null);
	let busy = $state(false);
	const newest = new Newest();
	const asked = $derived({ parent: under?.code ?? null, outline, ...also });

	$effect(() => {
		const now = asked;
		untrack(() => {
			newest.drop();
			if (now.outline.trim()) newest.run(async () => void (shown = await ask({ ...now, dry: true })));
			else [shown, problem] = [[], null];
		});
	});
	async function ask(wanted: object): Promise<T[]> {
		try {
			const made = await post<T[]>(path, wanted);
			problem = null;
			return made;
		} catch (e) {
			if (!(e instanceof ApiError)) throw e;
			problem = { message: e.message, faults: e.faults };
			return [];
		}
	}
	async function add() {
		if (!outline.trim()) {
			problem = { message: `Name at least one ${one}.`, faults: [] };
			return;
		}
		busy = true;
		const made = await ask(asked);
		busy = false;
		if (made.length) ondone(made);
	}
	const tree = $derived(
		shown.map((i) => ({ ...i, parent: shown.some((s) => s.code === i.parent) ? i.parent : null }))
	);
</script>

<Dialog
	title={under ? `Add under ${under.name}` : 'Add at the top'}
	action={shown.length > 1 ? `Add ${shown.length}` : 'Add'}
	size="lg"
	disabled={busy}
	onaction={add}
	{onclose}
>
	<Halves>
		<div>
			<Label for="added">{lead}</Label>
			<Textarea id="added" rows={10} bind:value={outline} placeholder={example} />
		</div>
		<div>
			{@render fields()}
			{#if shown.length}
				<TreeList label="As they will stand" items={tree} {note} />
				<p class="muted">{counted(shown.length, one)}.</p>
			{:else if !problem}
				<p class="muted">
					A list can be pasted from a spreadsheet; what is indented lies under what stands above it.
				</p>
			{/if}
			{#if problem}<Faults message={problem.message} faults={problem.faults} />{/if}
		</div>
	</Halves>
</Dialog>
