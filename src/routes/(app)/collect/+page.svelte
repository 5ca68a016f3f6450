<script lang="ts">
	import { untrack } from 'svelte';
	import { yearFrom } from '$lib/core/calendar/spans';
	import { page } from '$app/state';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import { useCompany, withSelection } from '$lib/ui/shell/company';
	import { day, exact, figure, moment } from '$lib/ui/writing/format';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import OpenRound from '$lib/ui/rounds/OpenRound.svelte';
	import SubmitDialog from '$lib/ui/rounds/SubmitDialog.svelte';
	import { Growing } from '$lib/ui/kit/rows/growing.svelte';
	import Listing from '$lib/ui/kit/Listing.svelte';
	import Segments from '$lib/ui/kit/Segments.svelte';

	let { data } = $props();
	const company = useCompany();
	const { calendar } = company;
	type Round = (typeof data.rounds)[number];
	type Submission = Round['submissions'][number];
	let opened = $state<string | null>(null);
	let moving = $state<{ submission: Submission; action: string } | null>(null);
	let making = $state(false);
	let inState = $state('');
	const round: Round | undefined = $derived(
		data.rounds.find((r) => r.code === page.url.searchParams.get('round')) ?? data.rounds[0]
	);
	const growing = new Growing(
		untrack(() => round?.submissions.length ?? 0),
		60
	);
	const STATES = ['not started', 'drafting', 'submitted', 'in review', 'returned', 'approved'];
	const count = (s: string) => round?.submissions.filter((x) => x.state === s).length ?? 0;
	const shown = $derived(round?.submissions.filter((s) => inState === '' || s.state === inState) ?? []);
	const planHref = (s: Submission) => {
		const scenario = company.data.scenarios.find((x) => x.code === round!.scenario)!;
		return withSelection('/plan', company.data.selection, calendar, {
			scenario: scenario.code,
			department: s.department,
			...yearFrom(calendar, scenario.first, scenario.last)
		});
	};
	const MOVES: Record<string, { name: string; words: string; reason: boolean; done: string }> = {
		submit: {
			name: 'Submit',
			words: 'It goes to review and is locked until it is returned or withdrawn.',
			reason: false,
			done: 'is submitted'
		},
		withdraw: {
			name: 'Withdraw',
			words: 'It goes back to its owner to be changed.',
			reason: true,
			done: 'is withdrawn'
		},
		review: {
			name: 'Start review',
			words: 'Its owner sees that it is being reviewed and can no longer withdraw it.',
			reason: false,
			done: 'is in review'
		},
		return: {
			name: 'Return',
			words: 'It goes back to its owner, with your reason, and can be changed again.',
			reason: true,
			done: 'is returned'
		},
		approve: { name: 'Approve', words: 'It stays locked as it is now.', reason: false, done: 'is approved' },
		reopen: {
			name: 'Reopen',
			words: 'The approval is taken back and the plan can be changed again.',
			reason: true,
			done: 'is reopened'
		}
	};
	const WORDS: Record<string, string> = {
		edit: 'began to draft',
		submit: 'submitted',
		withdraw: 'withdrew it',
		review: 'began the review',
		return: 'returned it',
		approve: 'approved',
		reopen: 'reopened it'
	};
	/** The step that is mostly wanted here; the others stand under More. */
	const main = (s: Submission): string | undefined =>
		(company.data.user.role === 'contributor' ? ['submit'] : ['approve']).find((m) =>
			s.moves.includes(m as never)
		);
</script>

<svelte:head><title>Collect · Yardstave</title></svelte:head>

<div class="top">
	<div>
		<h1>{round ? round.name : 'Collect'}</h1>
		{#if round}<p class="muted">{round.scenarioName} · due <b>{day(round.due)}</b></p>{/if}
	</div>
	{#if company.data.may['manage rounds']}<Button quiet onclick={() => (making = true)}>Open a round …</Button
		>{/if}
</div>

{#if !round}
	<p class="muted">
		{company.data.may['manage rounds']
			? 'No round is open. Open one to ask departments for their plans.'
			: 'Nothing is being asked of you at the moment.'}
	</p>
{:else}
	{#if data.rounds.length > 1}
		<nav class="rounds" aria-label="Rounds">
			{#each data.rounds as r (r.code)}
				<a
					class="plain"
					aria-current={r.code === round.code ? 'page' : undefined}
					href={withSelection('/collect', company.data.selection, calendar, {}, { round: r.code })}
					>{r.name}</a
				>
			{/each}
		</nav>
	{/if}
	{#if round.instructions}<p class="panel instructions">{round.instructions}</p>{/if}
	<div class="mb-2">
		<Segments
			label="Show by state"
			choices={[
				{ key: '', name: 'all', count: round.submissions.length },
				...STATES.map((s) => ({ key: s, name: s, count: count(s) }))
			]}
			chosen={inState}
			onchoose={(state) => (inState = state)}
		/>
	</div>
	<div class="scroll">
		<Listing>
			<thead>
				<tr
					><th>Department</th><th>State</th><th>Due</th><th>Owner</th><th class="num">Result, plan</th><th
						class="num">Year before</th
					><th>Last step</th><th></th></tr
				>
			</thead>
			<tbody>
				{#each shown.slice(0, growing.most) as s (s.department)}
					<tr>
						<td
							><a class="plain" href={planHref(s)}>{s.departmentName}</a>
							{#if s.currency !== company.data.company.currency}<span class="muted">in {s.currency}</span
								>{/if}</td
						>
						<td>
							<span class="state" data-state={s.state}>{s.state}</span>
							{#if s.changed.length}<span class="warn">changed since</span>{/if}
						</td>
						<td class:late={s.overdue}>{day(s.due)}{s.overdue ? ', overdue' : ''}</td>
						<td>{s.owners.join(', ') || 'nobody'}</td>
						<td class="num">{figure(s.result, 'money', company.data.figures)}</td>
						<td class="num muted">{figure(s.resultBefore, 'money', company.data.figures)}</td>
						<td class="last">
							{#if s.lastEvent}
								{s.lastEvent.name}
								{WORDS[s.lastEvent.action]}, {day(s.lastEvent.at)}
								{#if s.lastEvent.comment}<q>{s.lastEvent.comment}</q>{/if}
							{/if}
						</td>
						<td class="buttons">
							{#if main(s)}<Button onclick={() => (moving = { submission: s, action: main(s)! })}
									>{MOVES[main(s)!].name} …</Button
								>{/if}
							<Button
								quiet
								aria-expanded={opened === s.department}
								onclick={() => (opened = opened === s.department ? null : s.department)}
								>{opened === s.department ? 'Less' : 'More'}</Button
							>
						</td>
					</tr>
					{#if opened === s.department}
						<tr class="more">
							<td colspan="8">
								<div class="detail">
									<div>
										<h2>History</h2>
										{#each s.history as h (h.at + h.action)}
											<p>
												<b>{h.name}</b>
												{WORDS[h.action]} <span class="muted">{moment(h.at)}</span>{#if h.comment}<br /><q
														>{h.comment}</q
													>{/if}
											</p>
										{:else}<p class="muted">Nothing has happened yet.</p>{/each}
									</div>
									<div>
										{#if s.changed.length}
											<h2>Changed since it was submitted</h2>
											<Listing bare>
												<tbody>
													{#each s.changed as c (c.account)}
														<tr
															><td>{c.name}</td><td class="num">{exact(c.submitted, 'money')}</td><td>→</td
															><td class="num">{exact(c.now, 'money')}</td></tr
														>
													{/each}
												</tbody>
											</Listing>
										{/if}
										<p class="muted">Reviewers: {s.reviewers.join(', ') || 'analysts'}</p>
										<div class="buttons">
											{#each s.moves.filter((m) => m !== main(s)) as m (m)}
												<Button quiet onclick={() => (moving = { submission: s, action: m })}
													>{MOVES[m].name} …</Button
												>
											{/each}
										</div>
									</div>
								</div>
							</td>
						</tr>
					{/if}
				{:else}
					<tr><td colspan="8" class="muted">No department is in this state.</td></tr>
				{/each}
				{#if shown.length > growing.most}
					<tr {@attach growing.end}
						><td colspan="8" class="muted">{shown.length - growing.most} more …</td></tr
					>
				{/if}
			</tbody>
		</Listing>
	</div>
{/if}

{#if moving && round}
	{@const m = MOVES[moving.action]}
	<SubmitDialog
		title="{m.name}: plan of {moving.submission.departmentName}"
		words={moving.action === 'approve' && moving.submission.changed.length
			? `${moving.submission.changed.length} accounts have changed since it was submitted; see More. ${m.words}`
			: m.words}
		action={m.name}
		path="rounds/{round.code}/{moving.submission.department}"
		request={{ action: moving.action, mark: moving.submission.mark }}
		reason={m.reason}
		onclose={() => (moving = null)}
		ondone={() => notices.say(`The plan of ${moving?.submission.departmentName} ${m.done}.`)}
	/>
{/if}
{#if making}<OpenRound onclose={() => (making = false)} />{/if}

<style>
	.rounds {
		display: flex;
		gap: 16px;
		margin-bottom: 8px;
	}
	.rounds [aria-current] {
		font-weight: 600;
		text-decoration: none;
	}
	.instructions {
		margin-bottom: 8px;
	}
	.scroll {
		overflow: auto;
		flex: 1;
		min-height: 0;
	}
	.state {
		white-space: nowrap;
		font-weight: 600;
	}
	.state[data-state='approved'] {
		color: var(--green);
	}
	.state[data-state='returned'],
	.late,
	.warn {
		color: var(--clay);
	}
	.state[data-state='not started'],
	.state[data-state='drafting'] {
		color: var(--ink-2);
		font-weight: 400;
	}
	.warn {
		display: block;
		font-size: 12px;
	}
	td:first-child,
	td:nth-child(4) {
		white-space: nowrap;
	}
	.last {
		min-width: 220px;
	}
	q {
		color: var(--ink-2);
		display: block;
	}
	.buttons {
		white-space: nowrap;
	}
	.buttons > :global(* + *) {
		margin-left: 4px;
	}
	.detail {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 24px;
		padding: 6px 0 10px;
	}
	.detail p {
		margin-bottom: 6px;
	}
	.more td {
		background: var(--ground);
	}
</style>
