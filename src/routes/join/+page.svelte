<script lang="ts">
	import Button from '$lib/ui/kit/form/Button.svelte';
	import Input from '$lib/ui/kit/form/Input.svelte';
	import Label from '$lib/ui/kit/form/Label.svelte';
	import Front from '$lib/ui/shell/Front.svelte';

	let { data, form } = $props();
</script>

<svelte:head><title>Your password · Yardstave</title></svelte:head>

<Front title={data.company} width={460} problem={form?.message}>
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
</Front>
