<script lang="ts">
	import { untrack } from 'svelte';
	import { ApiError, patch, post, remove } from '$lib/ui/kit/api';
	import Dialog from '$lib/ui/kit/Dialog.svelte';
	import Button from '$lib/ui/kit/form/Button.svelte';
	import TextButton from '$lib/ui/kit/form/TextButton.svelte';
	import { Growing } from '$lib/ui/kit/rows/growing.svelte';
	import ListPage from '$lib/ui/kit/ListPage.svelte';
	import Listing from '$lib/ui/kit/Listing.svelte';
	import { notices } from '$lib/ui/kit/notices.svelte';
	import { reread } from '$lib/ui/kit/reread';
	import { RowFocus } from '$lib/ui/kit/rows/row-focus.svelte';
	import PersonDialog from '$lib/ui/people/PersonDialog.svelte';
	import { ROLES, STATES, type Invitation } from '$lib/ui/people/roles';
	import { useCompany } from '$lib/ui/shell/company';
	import { counted } from '$lib/ui/writing/count';
	import { moment } from '$lib/ui/writing/format';

	let { data } = $props();
	const company = useCompany();
	type Listed = (typeof data.people)[number];
	let text = $state('');
	const growing = new Growing(untrack(() => data.people.length));
	/** Whom the form is about; null within it for somebody new. */
	let editing = $state.raw<{ person: Listed | null } | null>(null);
	let sent = $state.raw<(Invitation & { name: string }) | null>(null);
	let disabling = $state.raw<Listed | null>(null);

	/** In the demo everybody signs in without a password. */
	const stateOf = (p: Listed) =>
		!company.data.passwords && p.state === 'new' ? 'signs in by one click' : STATES[p.state];
	const names = $derived(new Map(company.data.departments.map((d) => [d.code, d.name])));
	const rows = $derived(
		data.people.map((p) => ({
			...p,
			roleName: ROLES.find((r) => r.value === p.role)!.name,
			where: p.departments.map((d) => names.get(d) ?? d).join(', ')
		}))
	);
	const words = $derived(text.toLowerCase().split(/\s+/).filter(Boolean));
	const shown = $derived(
		rows.filter((p) => {
			const all = [p.name, p.email, p.roleName, p.pay ? 'sees pay' : '', p.where, stateOf(p)]
				.join(' ')
				.toLowerCase();
			return words.every((w) => all.includes(w));
		})
	);
	let body: HTMLTableSectionElement | undefined = $state();
	const focus = new RowFocus({
		get keys() {
			return shown.map((p) => p.email);
		},
		growing,
		get body() {
			return body;
		}
	});
	/** What can be done about somebody, in a word each. */
	function actsOf(p: Listed): { words: string; act: () => void }[] {
		const change = { words: 'change', act: () => void (editing = { person: p }) };
		if (p.state === 'disabled')
			return [change, { words: 'let in again', act: () => void setDisabled(p, false) }];
		const words = { active: 'new password', invited: 'invite again', new: 'invite' }[p.state];
		const acts = [change, { words, act: () => void link(p) }];
		// Nobody shuts themselves out.
		if (p.email === data.me) return acts;
		if (p.sessions) acts.push({ words: 'sign out', act: () => void signOut(p) });
		return [...acts, { words: 'disable', act: () => void (disabling = p) }];
	}
	const of = (state: Listed['state']) => data.people.filter((p) => p.state === state).length;
	const states = $derived(
		[
			[of('active'), 'can sign in'],
			[of('invited'), of('invited') === 1 ? 'has an invitation' : 'have an invitation'],
			[
				of('new'),
				!company.data.passwords
					? 'sign in by one click'
					: of('new') === 1
						? 'is not invited yet'
						: 'are not invited yet'
			],
			[of('disabled'), of('disabled') === 1 ? 'is disabled' : 'are disabled']
		]
			.filter(([n]) => n !== 0)
			.map(([n, what]) => `${n} ${what}`)
			.join(', ')
	);
	const path = (email: string) => `people/${encodeURIComponent(email)}`;

	/** Does something and says what was done, or why not. */
	async function act(work: () => Promise<string | void>) {
		try {
			const said = await work();
			await reread();
			if (said) notices.say(said);
		} catch (e) {
			notices.say(e instanceof ApiError ? e.message : 'It was not changed.', true);
		}
	}
	const link = (p: Listed) =>
		act(async () => {
			sent = { ...(await post<Invitation>(`${path(p.email)}/link`, {})), name: p.name };
		});
	const signOut = (p: Listed) =>
		act(async () => {
			const { ended } = await remove<{ ended: number }>(`${path(p.email)}/sessions`);
			return `${p.name} is signed out: ${counted(ended, 'session')} ended.`;
		});
	const setDisabled = (p: Listed, disabled: boolean) =>
		act(async () => {
			disabling = null;
			await patch(path(p.email), { disabled });
			return disabled ? `${p.name} cannot sign in any more.` : `${p.name} may sign in again.`;
		});
	async function done(name: string, invitation: Invitation | null) {
		editing = null;
		await reread();
		if (invitation) sent = { ...invitation, name };
		else notices.say(`${name} is changed.`);
	}
	async function copyLink() {
		try {
			await navigator.clipboard.writeText(sent!.link);
			notices.say('Copied.');
		} catch {
			notices.say('The browser does not let this page copy by itself; choose the address and press Ctrl+C.');
		}
	}
</script>

<ListPage title="People" find="Find somebody" bind:text>
	{#snippet says()}{counted(data.people.length, 'person', 'people')}: {states}. Arrow keys lead from row to
		row.{/snippet}
	{#snippet action()}<Button onclick={() => (editing = { person: null })}>Invite somebody …</Button>{/snippet}
	<Listing>
		<thead
			><tr><th>Name</th><th>E-mail</th><th>Role</th><th>Departments</th><th>State</th><th></th></tr></thead
		>
		<tbody bind:this={body}>
			{#each shown.slice(0, growing.most) as p (p.email)}
				<tr
					class:off={p.state === 'disabled'}
					data-person={p.email}
					onfocusin={() => focus.come(p.email)}
					onkeydown={(event) => void focus.onkeydown(event, p.email)}
				>
					<td>{p.name}</td>
					<td>{p.email}</td>
					<td>{p.roleName}{p.pay ? ', sees pay' : ''}</td>
					<td>{p.where}</td>
					<td>{stateOf(p)}{p.sessions ? ', signed in' : ''}</td>
					<td class="doing">
						{#each actsOf(p) as { words, act } (words)}
							<TextButton tabindex={focus.tabindex(p.email)} onclick={act}
								>{words}<span class="sr-only"> {p.name}</span></TextButton
							>
						{/each}
					</td>
				</tr>
			{:else}
				<tr><td colspan="6" class="muted">Nobody fits.</td></tr>
			{/each}
			{#if shown.length > growing.most}<tr {@attach growing.end}
					><td colspan="6" class="muted">{shown.length - growing.most} more …</td></tr
				>{/if}
		</tbody>
	</Listing>
</ListPage>
{#if editing}
	<PersonDialog
		givesPay={company.data.may['see individual pay']}
		person={editing.person}
		departments={company.data.departments}
		own={editing.person?.email === data.me}
		ondone={done}
		onclose={() => (editing = null)}
	/>
{/if}
{#if sent}
	<Dialog
		title="A link for {sent.name}"
		action="Copy the link"
		leave="Done"
		onaction={copyLink}
		onclose={() => (sent = null)}
	>
		<p>
			{#if sent.failure}The mail could not be sent ({sent.failure}). Pass this address on yourself:{:else if sent.waits}There
				is no mail server: pass this address on yourself. It also stands under Mail.{:else}A mail with this
				address is on its way.{/if}
		</p>
		<p class="link">{sent.link}</p>
		<p class="muted">It works once, until {moment(sent.until)}.</p>
	</Dialog>
{/if}
{#if disabling}
	<Dialog
		title="Disable {disabling.name}?"
		action="Disable"
		onaction={() => setDisabled(disabling!, true)}
		onclose={() => (disabling = null)}
	>
		<p>
			They are signed out everywhere and cannot sign in until they are let in again. What they have planned
			and written stays.
		</p>
	</Dialog>
{/if}

<style>
	tr:focus-within > td {
		background: var(--green-tint);
	}
	.off td:not(.doing) {
		color: var(--ink-2);
		text-decoration: line-through;
	}
	.link {
		font-family: var(--font-mono);
		font-size: 13px;
		overflow-wrap: anywhere;
		user-select: all;
	}
</style>
