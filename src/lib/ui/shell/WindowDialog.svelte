<!-- Any months as the window: from one to another. -->
<script lang="ts">
	import Label from '../kit/form/Label.svelte';
	import Select from '../kit/form/Select.svelte';
	import { untrack } from 'svelte';
	import { type Span, MOST_MONTHS } from '../../core/calendar/spans';
	import { useCompany } from './company';
	import Dialog from '../kit/Dialog.svelte';

	interface Props {
		window: Span;
		onchoose: (window: Span) => void;
		onclose: () => void;
	}
	let { window, onchoose, onclose }: Props = $props();
	const { calendar, data } = useCompany();
	let from = $state(untrack(() => calendar.key(window.from)));
	let to = $state(untrack(() => calendar.key(window.to)));
	let problem = $state('');
	/** From the first year of any scenario to the last. */
	const months = untrack(() => {
		const all = data.scenarios.flatMap((s) => [s.first, s.last]);
		const first = Math.min(window.from, ...all);
		const last = Math.max(window.to, ...all);
		return Array.from({ length: last - first + 1 }, (_, i) => ({
			value: calendar.key(first + i),
			name: calendar.longLabel(first + i)
		}));
	});
	function choose(event: SubmitEvent) {
		event.preventDefault();
		const [a, b] = [calendar.parse(from)!, calendar.parse(to)!];
		if (b < a) problem = `The last ${calendar.words.one} lies before the first.`;
		else if (b - a >= MOST_MONTHS)
			problem = `At most ${MOST_MONTHS} ${calendar.words.many} are shown at once.`;
		else onchoose({ from: a, to: b });
	}
</script>

<Dialog title="Which {calendar.words.many}" action="Show" form="window" {problem} {onclose}>
	<form id="window" onsubmit={choose}>
		<div>
			<Label for="window-from">From</Label>
			<Select id="window-from" items={months} placeholder="" bind:value={from} />
		</div>
		<div>
			<Label for="window-to">To</Label>
			<Select id="window-to" items={months} placeholder="" bind:value={to} />
		</div>
	</form>
</Dialog>

<style>
	form {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 18px;
	}
</style>
