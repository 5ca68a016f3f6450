<script lang="ts">
	import { Toast } from 'flowbite-svelte';
	import { notices } from './notices.svelte';
	import TextButton from './form/TextButton.svelte';
</script>

<!-- Read out where it stands, politely: a notice itself is no alert. -->
<div class="notices" role="status" aria-live="polite">
	{#each notices.list as notice (notice.id)}
		<Toast
			role="presentation"
			params={{ duration: 0 }}
			closeAriaLabel="Dismiss"
			onclose={() => notices.drop(notice.id)}
			class={notice.bad ? 'notice bad' : 'notice'}
			classes={{ content: 'said', close: 'close' }}
		>
			<span>{notice.text}</span>
			{#if notice.action}
				<TextButton
					onclick={() => {
						notice.action!.run();
						notices.drop(notice.id);
					}}>{notice.action.label}</TextButton
				>
			{/if}
		</Toast>
	{/each}
</div>

<style>
	.notices {
		position: fixed;
		left: 124px;
		bottom: 36px;
		display: flex;
		flex-direction: column;
		gap: 8px;
		z-index: 40;
	}
	.notices :global(.notice) {
		align-items: center;
		gap: 16px;
		width: auto;
		max-width: 640px;
		background: var(--rail);
		color: var(--rail-ink);
		padding: 10px 14px;
		border-radius: 6px;
		box-shadow: 0 6px 20px var(--shade);
	}
	.notices :global(.bad) {
		border-left: 4px solid var(--clay);
	}
	.notices :global(.said) {
		display: flex;
		gap: 16px;
	}
	.notices :global(.plain) {
		color: inherit;
		font-weight: 600;
	}
	.notices :global(.close) {
		background: none;
		color: inherit;
		flex: none;
	}
</style>
