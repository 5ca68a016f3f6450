<script lang="ts">
	import Button from '$lib/ui/kit/form/Button.svelte';
	import Input from '$lib/ui/kit/form/Input.svelte';
	import Label from '$lib/ui/kit/form/Label.svelte';

	let { data, form } = $props();
</script>

<svelte:head><title>Your password · Yardstave</title></svelte:head>

<div class="page">
	<main>
		<h1>{data.company}</h1>
		<p>{data.name}, choose a password. You sign in with {data.email} and it from now on.</p>
		<form method="POST">
			<!-- So that the browser keeps them together. -->
			<input
				class="sr-only"
				tabindex="-1"
				autocomplete="username"
				value={data.email}
				readonly
				aria-hidden="true"
			/>
			<Label for="password">Password, at least 10 characters</Label>
			<Input
				size="md"
				id="password"
				name="password"
				type="password"
				autocomplete="new-password"
				minlength={10}
				maxlength={1024}
				required
			/>
			<Label for="again">Once more</Label>
			<Input
				size="md"
				id="again"
				name="again"
				type="password"
				autocomplete="new-password"
				maxlength={1024}
				required
			/>
			<Button size="md" type="submit">Begin</Button>
		</form>
		{#if form?.message}<p class="problem" role="alert">{form.message}</p>{/if}
	</main>
</div>

<style>
	.page {
		height: 100vh;
		display: grid;
		place-items: center;
		overflow: auto;
	}
	main {
		background: var(--sheet);
		border: 1px solid var(--rule);
		border-radius: 10px;
		padding: 28px 32px;
		width: 460px;
		display: grid;
		gap: 10px;
	}
	form {
		display: grid;
		gap: 8px;
	}
	.problem {
		color: var(--clay);
		font-weight: 600;
	}
</style>
