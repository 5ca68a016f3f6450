<script lang="ts">
	import ErrorPage from '$lib/ui/shell/ErrorPage.svelte';
</script>

<ErrorPage />
