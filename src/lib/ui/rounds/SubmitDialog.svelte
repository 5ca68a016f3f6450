<script lang="ts">
	import Label from '../kit/form/Label.svelte';
	import Textarea from '../kit/form/Textarea.svelte';
	import Dialog from '../kit/Dialog.svelte';
	import { ApiError, post } from '../kit/api';
	import { reread } from '../kit/reread';

	/** Moves a submission on, with a comment. */
	interface Props {
		title: string;
		words: string;
		action: string;
		path: string;
		request: Record<string, unknown>;
		/** A comment must be given. */
		reason?: boolean;
		onclose: () => void;
		ondone: () => void;
	}
	let { title, words, action, path, request, reason = false, onclose, ondone }: Props = $props();
	let comment = $state('');
	let problem = $state('');
	let busy = $state(false);

	async function submit(event: SubmitEvent) {
		event.preventDefault();
		if (reason && !comment.trim()) {
			problem = 'Say why, in a sentence.';
			return;
		}
		busy = true;
		try {
			await post(path, { ...request, comment });
			await reread();
			ondone();
			onclose();
		} catch (e) {
			problem = e instanceof ApiError ? e.message : 'This did not work.';
		} finally {
			busy = false;
		}
	}
</script>

<Dialog {title} {action} form="move" disabled={busy} {problem} {onclose}>
	<form id="move" class="form" onsubmit={submit}>
		<p>{words}</p>
		<Label for="comment">{reason ? 'Why' : 'Comment (optional)'}</Label>
		<Textarea id="comment" rows={3} bind:value={comment} />
	</form>
</Dialog>

<style>
	.form {
		display: grid;
		gap: 8px;
	}
</style>
