<script lang="ts">
	import { untrack } from 'svelte';
	import { ApiError, patch, post } from '../kit/api';
	import Dialog from '../kit/Dialog.svelte';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';
	import Select from '../kit/form/Select.svelte';
	import Tick from '../kit/form/Tick.svelte';
	import { ROLES, type Invitation, type Role } from './roles';

	/** Invites somebody, or changes what they are. */
	interface Props {
		/** Null for a new one. */
		person: { email: string; name: string; role: Role; departments: string[]; pay: boolean } | null;
		departments: readonly { code: string; name: string; depth: number }[];
		/** Whether the user may let others see individual pay: those who see it themselves. */
		givesPay: boolean;
		/** The user’s own role stays. */
		own: boolean;
		/** With the invitation, for who is new. */
		ondone: (name: string, invitation: Invitation | null) => void;
		onclose: () => void;
	}
	let { person, departments, givesPay, own, ondone, onclose }: Props = $props();
	let name = $state(untrack(() => person?.name ?? ''));
	let email = $state('');
	let role = $state<Role>(untrack(() => person?.role ?? 'contributor'));
	let chosen = $state<string[]>(untrack(() => [...(person?.departments ?? [])]));
	let pay = $state(untrack(() => person?.pay ?? false));
	let problem = $state('');
	let busy = $state(false);
	const says = $derived(ROLES.find((r) => r.value === role)!.says);

	async function keep(event: SubmitEvent) {
		event.preventDefault();
		if (!chosen.length) {
			problem = 'Choose at least one department.';
			return;
		}
		busy = true;
		problem = '';
		const as = { name, role, pay, departments: $state.snapshot(chosen) };
		try {
			if (person) {
				await patch(`people/${encodeURIComponent(person.email)}`, as);
				ondone(name, null);
			} else ondone(name, await post('people', { ...as, email }));
		} catch (e) {
			problem =
				e instanceof ApiError
					? [e.message, ...e.faults.map((f) => `${f.column}: ${f.message}.`)].join(' ')
					: 'It was not saved.';
			busy = false;
		}
	}
</script>

<Dialog
	title={person ? `Change ${person.name}` : 'Invite somebody'}
	action={person ? 'Change' : 'Invite'}
	form="person-form"
	size="md"
	disabled={busy}
	{problem}
	{onclose}
>
	<form id="person-form" onsubmit={keep}>
		<div>
			<Label for="person-name">Name</Label>
			<Input id="person-name" required maxlength={120} autocomplete="off" bind:value={name} />
		</div>
		<div>
			<Label for="person-email">E-mail, to sign in with</Label>
			{#if person}<p id="person-email">{person.email}</p>{:else}<Input
					id="person-email"
					type="email"
					required
					maxlength={254}
					autocomplete="off"
					bind:value={email}
				/>{/if}
		</div>
		<div>
			<Label for="person-role">Role</Label>
			<Select placeholder="" id="person-role" items={ROLES} disabled={own} bind:value={role} />
			<p class="muted">{says}{own ? ' Your own role is changed by another analyst.' : ''}</p>
			<Tick disabled={!givesPay} bind:checked={pay}>sees individual pay</Tick>
			{#if !givesPay}<p class="muted">Somebody who sees it gives this right.</p>{/if}
		</div>
		<div>
			<p class="heading" id="person-departments">Departments, each with all under it</p>
			<div class="list" role="group" aria-labelledby="person-departments">
				{#each departments as d (d.code)}
					<div style:padding-left="{d.depth * 16}px">
						<Tick bind:group={chosen} value={d.code}>{d.name}</Tick>
					</div>
				{/each}
			</div>
		</div>
	</form>
</Dialog>

<style>
	form {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 12px 20px;
	}
	.heading {
		font-weight: 600;
		font-size: 14px;
	}
	.list {
		max-height: 220px;
		overflow: auto;
		border: 1px solid var(--rule);
		padding: 6px 8px;
	}
</style>
