<script lang="ts">
	import { page } from '$app/state';

	const TITLES: Record<number, string> = { 404: 'Not found', 403: 'Not open to you' };
</script>

<div class="error">
	<h1>{TITLES[page.status] ?? 'This did not work'}</h1>
	<p>{page.error?.message}</p>
	<p><a class="plain" href="/">Back to the start</a></p>
</div>

<style>
	.error {
		padding: 60px;
		display: grid;
		gap: 10px;
		max-width: 640px;
	}
</style>
