<script lang="ts">
	import Listing from '$lib/ui/kit/Listing.svelte';
	import { moment } from '$lib/ui/writing/format';

	let { data } = $props();
	const shown = $derived(data.mail.slice(0, 100));
</script>

<svelte:head><title>Mail · Yardstave</title></svelte:head>

<h1>Mail</h1>
<p class="muted">
	{#if data.server}What has gone out through the mail server, without the keys that stood in it.{:else}There
		is no mail server, so that what would go out is read here: pass it on to whom it is for. Whoever runs the
		server can name one.{/if}
</p>
<div class="scroll">
	<Listing>
		<thead><tr><th>When</th><th>To</th><th>About</th><th>Says</th></tr></thead>
		<tbody>
			{#each shown as mail (mail.id)}
				<tr>
					<td class="when">{moment(mail.at)}</td>
					<td>{mail.to}</td>
					<td
						>{mail.subject}{#if mail.failure}<p class="failed">Not sent: {mail.failure}</p>{/if}</td
					>
					<td class="body">{mail.body}</td>
				</tr>
			{:else}
				<tr><td colspan="4" class="muted">Nothing yet. Whoever is invited under People gets a mail.</td></tr>
			{/each}
		</tbody>
	</Listing>
</div>

<style>
	.scroll {
		overflow: auto;
		flex: 1;
		min-height: 0;
		margin-top: 10px;
	}
	.when {
		white-space: nowrap;
	}
	.body {
		white-space: pre-wrap;
		overflow-wrap: anywhere;
		font-size: 13px;
	}
	.failed {
		color: var(--clay);
	}
</style>
