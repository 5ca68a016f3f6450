<script lang="ts">
	import Button from '$lib/ui/kit/form/Button.svelte';
	import Input from '$lib/ui/kit/form/Input.svelte';
	import Label from '$lib/ui/kit/form/Label.svelte';
	import Front from '$lib/ui/shell/Front.svelte';

	let { data, form } = $props();
</script>

<Front title="Yardstave" width={620} problem={form?.message}>
	{#if !data.ready}
		<p>There is no company here yet.</p>
		<p>
			Whoever runs the server sets it up: the address to do that, with a key that works once, was printed when
			the server started. Or a company folder is loaded with <code
				>npm run company -- load &lt;folder&gt;</code
			>.
		</p>
	{:else}
		<p class="muted">{data.company}</p>
		{#if data.demo.length}
			<h2>Look around as</h2>
			<form method="POST" action="?/demo" class="people">
				<input type="hidden" name="to" value={form?.to ?? data.to} />
				{#each data.demo as user (user.email)}
					<button name="email" value={user.email}>
						<b>{user.name}</b><span>{user.role}</span><small>{user.departments}</small>
					</button>
				{/each}
			</form>
		{:else}
			<form method="POST" action="?/password">
				<input type="hidden" name="to" value={form?.to ?? data.to} />
				<Label for="email">E-mail</Label>
				<Input
					size="md"
					id="email"
					name="email"
					type="email"
					autocomplete="username"
					required
					maxlength={254}
					value={form?.email ?? ''}
				/>
				<Label for="password">Password</Label>
				<Input
					size="md"
					id="password"
					name="password"
					type="password"
					autocomplete="current-password"
					maxlength={1024}
					required
				/>
				<Button size="md" type="submit">Sign in</Button>
			</form>
		{/if}
	{/if}
</Front>

<style>
	.people {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 8px;
	}
	.people button {
		display: grid;
		grid-template-columns: 1fr auto;
		text-align: left;
		border: 1px solid var(--rule-strong);
		border-radius: 6px;
		padding: 8px 12px;
		background: var(--ground);
	}
	.people button:hover {
		background: var(--green-tint);
	}
	.people span {
		color: var(--green);
		font-size: 13px;
	}
	.people small {
		grid-column: 1 / 3;
		color: var(--ink-2);
	}
	code {
		font-family: var(--font-mono);
		font-size: 13px;
	}
</style>
