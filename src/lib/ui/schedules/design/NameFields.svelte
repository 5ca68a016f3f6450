<script lang="ts">
	import Field from '../../kit/form/Field.svelte';
	import { codeOf } from './design';

	/** What a column or a line is called, by people and in formulas. */
	interface Props {
		part: { code: string; label: string };
		/** Codes of the others. */
		taken: readonly string[];
		/** Not saved yet: it is called in formulas after its label, until somebody says otherwise. */
		fresh: boolean;
		/** Whether it can be called otherwise in formulas once it is saved. */
		stays?: boolean;
		disabled: boolean;
		otherwise: string;
		onlabel: (label: string) => void;
		onrecode: (code: string, label: string) => void;
	}
	let { part, taken, fresh, stays = false, disabled, otherwise, onlabel, onrecode }: Props = $props();

	function relabel(label: string) {
		if (fresh && part.code === codeOf(part.label, taken, otherwise))
			onrecode(codeOf(label, taken, otherwise), label);
		else onlabel(label);
	}
</script>

<div class="grid">
	<label>Label <Field {disabled} value={part.label} oninput={(e) => relabel(e.currentTarget.value)} /></label>
	<label
		>Name in formulas
		<Field
			class="font-mono"
			disabled={disabled || (stays && !fresh)}
			title={stays && !fresh ? 'It stays what it is: typed figures are kept by it.' : undefined}
			value={part.code}
			onchange={(e) => onrecode(e.currentTarget.value.trim(), part.label)}
		/></label
	>
</div>
