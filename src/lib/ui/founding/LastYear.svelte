<script lang="ts">
	import { untrack } from 'svelte';
	import type { Calendar } from '../../core/calendar/calendar';
	import type { HistoryPreview } from '../../core/company/history';
	import { ApiError, post, type Fault } from '../kit/api';
	import { broughtText } from '../kit/brought';
	import Faults from '../kit/Faults.svelte';
	import Choice from '../kit/form/Choice.svelte';
	import FileDrop from '../kit/form/FileDrop.svelte';
	import Label from '../kit/form/Label.svelte';
	import Radio from '../kit/form/Radio.svelte';
	import Select from '../kit/form/Select.svelte';
	import TextButton from '../kit/form/TextButton.svelte';
	import Textarea from '../kit/form/Textarea.svelte';
	import Listing from '../kit/Listing.svelte';
	import { Newest } from '../kit/newest';
	import { counted } from '../writing/count';
	import { exact } from '../writing/format';

	/** Figures of last year that the company begins with: what is brought is looked at before it is taken. */
	interface Props {
		/** The one-time key. */
		opens: string;
		calendar: Calendar;
		/** The fiscal year in which today lies, and the period. */
		running: number;
		present: number;
		chart: string;
		/** As typed, and as they stand. */
		departments: string;
		leaves: readonly { code: string; name: string }[];
		/** What is sent when the company is set up; null without any. */
		history: object | null;
		/** What has to be mended first; empty when nothing has. */
		wrong: string;
		/** Goes on to what stands behind the accounts, which are many to go through by keyboard. */
		onpast: () => void;
	}
	let {
		opens,
		calendar,
		running,
		present,
		chart,
		departments,
		leaves,
		history = $bindable(),
		wrong = $bindable(),
		onpast
	}: Props = $props();

	const EXAMPLE = 'Account\tName\tDebit\tCredit\n1020\tBank\t40100.00\n3400\tFees\t\t100000.00';
	let file = $state('');
	let content = $state('');
	/** Of the workbook that was chosen: what was read. */
	let said = $state('');
	let ended = $state<string | null>(null);
	let department = $state('');
	let decimal = $state<'.' | ','>('.');
	let places = $state<Record<string, string>>({});
	let looked = $state.raw<HistoryPreview | null>(null);
	let problem = $state.raw<{ message: string; faults: Fault[] } | null>(null);
	let drop: FileDrop | undefined = $state();
	const newest = new Newest();

	/** Periods that have ended, the latest first; the end of a year says so. */
	const endings = $derived(
		Array.from({ length: present - calendar.yearStart(running - 1) }, (_, i) => present - 1 - i).map((p) => ({
			value: calendar.key(p),
			name:
				calendar.yearStart(calendar.fiscalYear(p) + 1) === p + 1
					? `${calendar.longLabel(p)}, all of ${calendar.yearLabel(calendar.fiscalYear(p))}`
					: calendar.longLabel(p)
		}))
	);
	const yearEnd = $derived(calendar.key(calendar.yearStart(running) - 1));
	const through = $derived(endings.some((e) => e.value === ended) ? ended! : yearEnd);
	const standsIn = $derived(leaves.some((d) => d.code === department) ? department : '');
	const dated = $derived(looked?.kind === 'ledger');
	const brought = $derived(
		content.trim() === ''
			? null
			: { file: file || 'the list', content, through, department: standsIn || null, decimal }
	);

	$effect(() => {
		history = brought && { ...brought, places };
		wrong = brought === null || (looked !== null && looked.faultCount === 0) ? '' : 'last year’s figures';
	});
	$effect(() => {
		const asked = { key: opens, calendar: calendar.spec, chart, departments, history: brought };
		untrack(() => {
			newest.drop();
			if (asked.history) newest.run(() => look(asked));
			else [looked, problem] = [null, null];
		});
	});
	async function look(asked: object) {
		try {
			looked = await post<HistoryPreview>('founding/history', asked);
			problem = looked.faultCount
				? {
						message: `${counted(looked.faultCount, 'place')} to be mended before it can be taken.`,
						faults: looked.faults
					}
				: null;
		} catch (e) {
			if (!(e instanceof ApiError)) throw e;
			looked = null;
			problem = { message: e.message, faults: e.faults };
		}
		if (content.trim() === '') [looked, problem] = [null, null];
	}
	async function choose(chosen: File | undefined) {
		if (!chosen) return;
		try {
			const text = await broughtText(chosen, `founding/worksheets?key=${encodeURIComponent(opens)}`);
			[file, content, places, said] = [chosen.name, text.content, {}, text.said];
		} catch (e) {
			clear();
			if (!(e instanceof ApiError)) throw e;
			problem = { message: e.message, faults: e.faults };
		}
	}
	function clear() {
		[file, content, places, said, looked, problem] = ['', '', {}, '', null, null];
		drop?.clear();
	}
	const money = (v: number) => exact(v, 'money');
	/** As chosen, where the chart still has that place. */
	const placeOf = (code: string, laid: string) =>
		looked?.places.some((p) => p.key === places[code]) ? places[code] : laid;
	const guessed = $derived(looked?.accounts.filter((a) => a.reason !== 'name') ?? []);
	const WHY = { name: '', number: 'by its number', sign: 'by its sign' };
	const sides = $derived.by(() => {
		if (!looked) return '';
		const apart = Math.round((looked.debits - looked.credits) * 1e4) / 1e4;
		return apart === 0
			? `Both sides are ${money(looked.debits)}.`
			: `${apart > 0 ? 'Debits' : 'Credits'} are larger by ${money(Math.abs(apart))}; it is taken as it is.`;
	});
</script>

<FileDrop
	id="history-file"
	label="Trial balance or ledger"
	accept=".csv,.txt,.tsv,.xlsx"
	chosen={file}
	bind:this={drop}
	onfile={choose}>Choose a file</FileDrop
>
<div class="beside">
	<div>
		<Label for="history">Or paste its rows, headings first</Label>
		<Textarea
			id="history"
			rows={6}
			bind:value={() => (file ? '' : content), (text) => ([file, content, said] = ['', text, ''])}
			placeholder={EXAMPLE}
		/>
	</div>
	<div class="said">
		{#if looked && looked.faultCount === 0}
			<p role="status">
				{counted(looked.accounts.length, 'account')}{dated
					? `, ${counted(looked.rows, 'entry', 'entries')}`
					: ''},
				{looked.covers}. {sides}
				{said}
				{#if looked.leftOut}{counted(looked.leftOut, 'row')} of totals left out.{/if}
				{#if !dated}Income and cost are divided evenly over the {calendar.words.many}; balances stand at the
					end.{/if}
			</p>
		{/if}
		{#if looked && !dated}
			<div>
				<Label for="through">It covers the year up to</Label>
				<Select
					placeholder=""
					id="through"
					items={endings}
					bind:value={() => through, (value) => (ended = value ?? null)}
				/>
			</div>
		{/if}
		{#if looked && leaves.length > 1}
			<div>
				<Label for="stands">Where it names no department, it stands in</Label>
				<Select
					placeholder=""
					id="stands"
					items={[
						{ value: '', name: 'a department of its own, “Not divided”' },
						...leaves.map((d) => ({ value: d.code, name: d.name }))
					]}
					bind:value={() => standsIn, (value) => (department = value ?? '')}
				/>
			</div>
		{/if}
		{#if looked?.doubtful}
			<div role="radiogroup" aria-label="Decimal sign">
				<p>“{looked.doubtful}” can be read in two ways. The decimal sign is</p>
				<Radio name="decimal" value="." bind:group={decimal}>a point</Radio>
				<Radio name="decimal" value="," bind:group={decimal}>a comma</Radio>
			</div>
		{/if}
		{#if content}<p><TextButton onclick={clear}>Leave it out</TextButton></p>{/if}
	</div>
</div>
{#if problem}<Faults message={problem.message} faults={problem.faults} count={looked?.faultCount} />{/if}
{#if looked && looked.faultCount === 0}
	<p class="muted">
		Each becomes an account of yours under a heading of the chart; headings without any keep the chart’s own.
		{#if guessed.length}{counted(guessed.length, 'account')} of {looked.accounts.length} could not be told by name:
			look at {guessed.length === 1 ? 'its heading' : 'their headings'}.{/if}
	</p>
	<p class="past"><TextButton onclick={onpast}>Past this list</TextButton></p>
	<!-- It scrolls, so that it must be reached by keyboard. -->
	<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
	<div class="list" tabindex="0" role="region" aria-label="Accounts and their headings">
		<Listing>
			<thead>
				<tr
					><th>Account</th><th>Name</th><th class="num">Debit</th><th class="num">Credit</th><th>Heading</th
					></tr
				>
			</thead>
			<tbody>
				{#each looked.accounts as a (a.code)}
					<tr>
						<td>{a.code}</td>
						<td>{a.name}</td>
						<td class="num">{a.amount > 0 ? money(a.amount) : ''}</td>
						<td class="num">{a.amount < 0 ? money(-a.amount) : ''}</td>
						<td>
							<Choice
								bare
								aria-label="Heading of {a.code} {a.name}"
								value={placeOf(a.code, a.place)}
								onpick={(place) => (places = { ...places, [a.code]: place })}
							>
								{#each looked.places as place (place.key)}<option value={place.key}>{place.label}</option
									>{/each}
							</Choice>
							{#if a.reason !== 'name' && !(a.code in places)}<small>{WHY[a.reason]}</small>{/if}
						</td>
					</tr>
				{/each}
			</tbody>
		</Listing>
	</div>
{/if}

<style>
	.beside {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 10px 20px;
	}
	.said {
		display: grid;
		align-content: start;
		gap: 10px;
	}
	.list :global(td) {
		padding-block: 0;
		vertical-align: middle;
	}
	/* In sight for whoever comes by keyboard. */
	.past:not(:focus-within) {
		position: absolute;
		clip-path: inset(50%);
		height: 1px;
		width: 1px;
		overflow: hidden;
	}
	.list {
		max-height: 320px;
		overflow: auto;
		border: 1px solid var(--rule);
	}
	small {
		color: var(--clay);
	}
</style>
