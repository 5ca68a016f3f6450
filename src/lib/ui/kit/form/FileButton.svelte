<script lang="ts">
	/** Words that open the choice of a file from the disk. */
	interface Props {
		label: string;
		/** Kinds of file that are offered; all unless said. */
		accept?: string;
		onfile: (file: File) => void;
	}
	let { label, accept, onfile }: Props = $props();
</script>

<label>
	<span class="plain">{label}</span>
	<input
		type="file"
		class="sr-only"
		{accept}
		onchange={(e) => {
			const file = e.currentTarget.files?.[0];
			e.currentTarget.value = '';
			if (file) onfile(file);
		}}
	/>
</label>

<style>
	label {
		position: relative;
		cursor: pointer;
	}
	label:focus-within span {
		outline: 2px solid var(--green);
		outline-offset: 2px;
	}
</style>
