<script lang="ts">
	import { page } from '$app/state';

	const TITLES: Record<number, string> = {
		404: 'Not found',
		403: 'Not open to you',
		503: 'Being calculated'
	};
	// What is being calculated is there in a moment: the page asks again by itself.
	$effect(() => {
		if (page.status !== 503) return;
		const again = setTimeout(() => location.reload(), 2000);
		return () => clearTimeout(again);
	});
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
