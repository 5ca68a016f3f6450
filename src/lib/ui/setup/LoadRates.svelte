<script lang="ts">
	import { untrack } from 'svelte';
	import { ApiError, post, type Fault } from '../kit/api';
	import Dialog from '../kit/Dialog.svelte';
	import Faults from '../kit/Faults.svelte';
	import FileButton from '../kit/form/FileButton.svelte';
	import Label from '../kit/form/Label.svelte';
	import Textarea from '../kit/form/Textarea.svelte';
	import { Newest } from '../kit/newest';
	import { useCompany } from '../shell/company';
	import { counted } from '../writing/count';
	import { exact } from '../writing/format';

	/** Loads exchange rates from a list that is pasted, or from a file; what would change is shown while it stands there. */
	interface Change {
		currency: string;
		/** As the calendar writes it. */
		period: string;
		average: number | null;
		closing: number | null;
		before: { average: number | null; closing: number | null };
	}
	interface Props {
		set: { code: string; name: string };
		reporting: string;
		/** Told how many lines were taken. */
		ondone: (count: number) => void;
		onclose: () => void;
	}
	let { set, reporting, ondone, onclose }: Props = $props();
	const { calendar } = useCompany();
	const MOST_SHOWN = 12;
	let text = $state('');
	let found = $state.raw<{ read: number; changes: Change[] } | null>(null);
	let problem = $state.raw<{ message: string; faults: Fault[] } | null>(null);
	let busy = $state(false);
	const newest = new Newest();
	const ask = (dry: boolean) =>
		post<{ read: number; changes: Change[] }>(`rates/${set.code}/load`, { text, dry });

	$effect(() => {
		void text;
		untrack(() => {
			newest.drop();
			if (!text.trim()) [found, problem] = [null, null];
			else newest.run(look);
		});
	});
	async function look() {
		try {
			[found, problem] = [await ask(true), null];
		} catch (e) {
			if (!(e instanceof ApiError)) throw e;
			[found, problem] = [null, { message: e.message, faults: e.faults }];
		}
	}
	async function load() {
		if (!text.trim()) {
			problem = { message: 'Paste the rates, or choose a file.', faults: [] };
			return;
		}
		busy = true;
		try {
			const { changes } = await ask(false);
			ondone(changes.length);
		} catch (e) {
			problem =
				e instanceof ApiError
					? { message: e.message, faults: e.faults }
					: { message: 'They were not loaded.', faults: [] };
		} finally {
			busy = false;
		}
	}
	const EXAMPLE = `EUR\t${calendar.words.sample}\t0.8615\t0.8580`;
	const words = (now: number | null, before: number | null) =>
		now === null
			? ''
			: before === null || before === now
				? exact(now, 'price')
				: `${exact(before, 'price')} → ${exact(now, 'price')}`;
</script>

<Dialog title="Load rates into {set.name}" action="Load" size="lg" disabled={busy} onaction={load} {onclose}>
	<div class="two">
		<div>
			<Label for="rates-text">A line for each: currency, {calendar.words.one}, average, last day</Label>
			<Textarea id="rates-text" rows={10} bind:value={text} placeholder={EXAMPLE} />
			<FileButton label="or choose a CSV file" onfile={(file) => void file.text().then((t) => (text = t))} />
		</div>
		<div>
			{#if found}
				<p>
					{counted(found.read, 'line')} read; {found.changes.length
						? `${counted(found.changes.length, 'line differs', 'lines differ')} from what is there`
						: 'nothing differs from what is there'}.
				</p>
				<ul aria-label="What changes">
					{#each found.changes.slice(0, MOST_SHOWN) as c (`${c.currency} ${c.period}`)}
						<li>
							<span>{c.currency} {calendar.label(calendar.parse(c.period)!)}</span>
							<span class="num">{words(c.average, c.before.average)}</span>
							<span class="num">{words(c.closing, c.before.closing)}</span>
						</li>
					{/each}
				</ul>
				{#if found.changes.length > MOST_SHOWN}<p class="muted">
						and {found.changes.length - MOST_SHOWN} more
					</p>{/if}
			{:else if !problem}
				<p class="muted">
					How much {reporting} one unit of the currency is worth. A first line of headings may say another order;
					a rate that is left out stays as it is.
				</p>
			{/if}
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
	li {
		display: grid;
		grid-template-columns: 1fr 1fr 1fr;
		border-bottom: 1px solid var(--rule);
		padding: 3px 0;
	}
</style>
