<script lang="ts">
	import { ApiError, post } from '../kit/api';
	import Dialog from '../kit/Dialog.svelte';
	import Input from '../kit/form/Input.svelte';
	import Label from '../kit/form/Label.svelte';
	import { notices } from '../kit/notices.svelte';
	import { counted } from '../writing/count';

	/** Changes one's own password. */
	let { onclose }: { onclose: () => void } = $props();
	let present = $state('');
	let next = $state('');
	let again = $state('');
	let problem = $state('');
	let busy = $state(false);

	async function change(event: SubmitEvent) {
		event.preventDefault();
		if (next !== again) {
			problem = 'The new password is not the same both times.';
			return;
		}
		busy = true;
		problem = '';
		try {
			const { ended } = await post<{ ended: number }>('me/password', { present, next });
			notices.say(
				ended
					? `Your password is changed; ${counted(ended, 'other session')} of yours ${ended === 1 ? 'has' : 'have'} ended.`
					: 'Your password is changed.'
			);
			onclose();
		} catch (e) {
			problem = e instanceof ApiError ? e.message : 'The password was not changed.';
			busy = false;
		}
	}
</script>

<Dialog title="Your password" action="Change" form="password-form" disabled={busy} {problem} {onclose}>
	<form id="password-form" onsubmit={change}>
		<Label for="present">Present password</Label>
		<Input
			id="present"
			type="password"
			autocomplete="current-password"
			required
			maxlength={1024}
			bind:value={present}
		/>
		<Label for="next">New password, at least 10 characters</Label>
		<Input
			id="next"
			type="password"
			autocomplete="new-password"
			required
			minlength={10}
			maxlength={1024}
			bind:value={next}
		/>
		<Label for="again">The new one once more</Label>
		<Input
			id="again"
			type="password"
			autocomplete="new-password"
			required
			maxlength={1024}
			bind:value={again}
		/>
	</form>
</Dialog>

<style>
	form {
		display: grid;
		gap: 8px;
	}
</style>
