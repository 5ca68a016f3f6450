<script lang="ts">
	import { ApiError, post } from '../kit/api';
	import TypedUnder from '../design/TypedUnder.svelte';
	import { typedIn, type Decision, type Typed } from '../design/typed-under';
	import LoadList from '../setup/LoadList.svelte';
	import { counted } from '../writing/count';

	/** Adds and changes rows of a schedule from a list or a file. */
	interface Change {
		id: string;
		/** Null for a row that is new. */
		differences: { column: string; before: string; after: string }[] | null;
	}
	interface Props {
		schedule: { code: string; name: string; one: string };
		scenario: string;
		/** Headings of the list. */
		headings: readonly string[];
		/** Where a workbook to fill is had. */
		template: string;
		/** Told how many rows were added or changed. */
		ondone: (count: number) => void;
		onclose: () => void;
	}
	let { schedule, scenario, headings, template, ondone, onclose }: Props = $props();
	/** Rows of the last list that are there and not in it. */
	let missing: string[] = $state.raw([]);
	const MOST = 6;

	/** What is typed where rows come to be posted, and who waits for what becomes of it. */
	let under = $state.raw<{ typed: Typed[]; decided: (decision: Decision | null) => void } | null>(null);
	const send = (body: object) =>
		post<{ read: number; changes: Change[]; missing: string[] }>(`schedules/${schedule.code}/import`, {
			scenario,
			...body
		});
	async function sendDecided(text: string, dry: boolean) {
		try {
			return await send({ text, dry });
		} catch (e) {
			const list = e instanceof ApiError ? typedIn(e.data) : null;
			if (!list) throw e;
			const decision = await new Promise<Decision | null>((decided) => (under = { typed: list, decided }));
			under = null;
			if (!decision) throw e;
			return send({ text, dry, typed: decision });
		}
	}
	async function ask(text: string, dry: boolean) {
		const found = await sendDecided(text, dry);
		missing = found.missing;
		return found;
	}
	const words = ({ differences }: Change) =>
		differences === null
			? 'new'
			: differences.map((d) => `${d.column}: ${d.before || 'blank'} → ${d.after || 'blank'}`).join(', ');
</script>

<LoadList
	title="Load {schedule.name.toLowerCase()}"
	label="Headings first: id, and any of the columns"
	example={`${headings.join('\t')}\n`}
	{ask}
	{ondone}
	{onclose}
	says={(changes) => {
		const fresh = changes.filter((c) => c.differences === null).length;
		const rest = missing.length
			? `; ${counted(missing.length, `${schedule.one} is`, 'are')} not in the list and stay: ${missing.slice(0, MOST).join(', ')}${missing.length > MOST ? ' and others' : ''}`
			: '';
		return `${counted(fresh, `new ${schedule.one}`, 'new')}, ${changes.length - fresh} changed${rest}`;
	}}
>
	{#snippet hint()}
		<a class="plain" href={template} download>A workbook to fill</a> has the rows that are there, an example, and
		what each column takes. Who has the identifier of one that is there changes it; others are added. A cell that
		is left empty stays as it is.
	{/snippet}
	{#snippet change(c: Change)}<span>{c.id}</span><span class="muted">{words(c)}</span>{/snippet}
</LoadList>

{#if under}
	<TypedUnder
		typed={under.typed}
		nameOf={(code) => code}
		disabled={false}
		ondecide={(decision) => under?.decided(decision)}
		onclose={() => under?.decided(null)}
	/>
{/if}
