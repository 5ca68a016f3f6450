<script lang="ts">
	import ErrorPage from '$lib/ui/ErrorPage.svelte';
</script>

<ErrorPage />
