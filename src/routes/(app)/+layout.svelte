<script lang="ts">
	import { afterNavigate } from '$app/navigation';
	import { page } from '$app/state';
	import { onMount, untrack } from 'svelte';
	import { provideModules } from '$lib/ui/kit/modules';
	import { provideCompany } from '$lib/ui/shell/company';
	import GoTo from '$lib/ui/shell/GoTo.svelte';
	import { live } from '$lib/ui/shell/live.svelte';
	import Rail from '$lib/ui/shell/Rail.svelte';
	import SelectionBar from '$lib/ui/shell/SelectionBar.svelte';
	import { trail } from '$lib/ui/figure/trail.svelte';
	import { sheet } from '$lib/ui/figure/sheet.svelte';
	import { userStyle } from '$lib/ui/writing/user-style.svelte';
	import SideSheet from '$lib/ui/figure/SideSheet.svelte';
	import TextButton from '$lib/ui/kit/form/TextButton.svelte';
	import Notices from '$lib/ui/kit/Notices.svelte';

	let { data, children } = $props();
	provideCompany(() => data);
	provideModules(() => data.company.off ?? []);
	// Before anything is drawn, here and on the server, which draws a page at a time.
	untrack(() => Object.assign(userStyle, data.style));
	$effect.pre(() => {
		Object.assign(userStyle, data.style);
	});
	let going = $state(false);
	$effect(() => live.watch(data.selection.scenario, page.url.pathname));
	onMount(() => () => live.close());

	// A figure of another page or selection would mislead.
	afterNavigate(({ from, to }) => {
		trail.arrived(to?.url.pathname ?? '');
		if (
			from?.url.pathname !== to?.url.pathname ||
			from?.url.searchParams.get('scenario') !== to?.url.searchParams.get('scenario')
		)
			sheet.close();
	});

	function onkeydown(event: KeyboardEvent) {
		if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
			going = true;
			event.preventDefault();
		} else if (event.altKey && event.key === 'Backspace' && trail.last) {
			void trail.back();
			event.preventDefault();
		} else if (event.key === 'Escape' && sheet.current && !going && !document.querySelector('dialog[open]'))
			sheet.close();
	}
</script>

<svelte:window {onkeydown} />
<svelte:document onvisibilitychange={() => live.seen(!document.hidden)} />

<div class="app">
	<Rail />
	<div class="work">
		<SelectionBar ongoto={() => (going = true)} />
		<div class="stage">
			<main>
				{#if trail.last}
					<p class="trail">
						<TextButton onclick={() => trail.back()}>← Back to {trail.last.name}</TextButton>
						<kbd>Alt+Backspace</kbd>
					</p>
				{/if}
				{@render children()}
			</main>
			<SideSheet />
		</div>
	</div>
</div>
<GoTo bind:open={going} />

<Notices />

<style>
	.app {
		display: flex;
		height: 100vh;
	}
	.work {
		flex: 1;
		min-width: 0;
		display: flex;
		flex-direction: column;
	}
	.stage {
		flex: 1;
		min-height: 0;
		display: flex;
	}
	main {
		flex: 1;
		min-width: 0;
		min-height: 0;
		display: flex;
		flex-direction: column;
		padding: 14px 18px 10px;
		overflow: auto;
	}
	.trail {
		margin: -6px 0 6px;
	}
</style>
