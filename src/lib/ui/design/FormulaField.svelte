<script lang="ts">
	import { autocompletion, completionKeymap, type CompletionContext } from '@codemirror/autocomplete';
	import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
	import {
		bracketMatching,
		HighlightStyle,
		LRLanguage,
		LanguageSupport,
		syntaxHighlighting
	} from '@codemirror/language';
	import { linter } from '@codemirror/lint';
	import { EditorState } from '@codemirror/state';
	import { EditorView, keymap } from '@codemirror/view';
	import { tags } from '@lezer/highlight';
	import { untrack } from 'svelte';
	import { checkFormula, type Names } from '../../core/formula/check';
	import { completionsAt } from '../../core/formula/complete';
	import type { Quantity } from '../../core/formula/units';
	import { parser } from '../../core/formula/grammar/parser';
	import type { FormulaError } from '../../core/formula/ast';

	interface Props {
		value: string;
		names: Names;
		/** What the line is declared to hold. */
		result?: Quantity;
		label: string;
		/** Takes the focus when it appears. */
		focuses?: boolean;
		onerrors?: (errors: FormulaError[]) => void;
	}
	let { value = $bindable(), names, result, label, focuses = true, onerrors }: Props = $props();

	const language = new LanguageSupport(LRLanguage.define({ name: 'formula', parser }));
	const colours = HighlightStyle.define([
		{ tag: tags.number, color: 'var(--timber)' },
		{ tag: tags.string, color: 'var(--slate)' },
		{ tag: tags.function(tags.variableName), color: 'var(--green)' },
		{ tag: tags.operator, color: 'var(--ink-2)' }
	]);

	function complete(context: CompletionContext) {
		const text = context.state.doc.toString();
		const found = completionsAt(text, context.pos, names);
		if (!found || (!context.explicit && found.from === context.pos && text[context.pos - 1] !== '"'))
			return null;
		const boost = { line: 2, name: 1, function: 0 };
		return {
			from: found.from,
			options: found.options.map((o) => ({
				label: o.insert.startsWith('"') ? o.insert : o.label,
				displayLabel: o.label,
				detail: o.detail,
				info: o.help,
				type: o.kind === 'function' ? 'function' : 'variable',
				boost: boost[o.kind] - (o.fits ? 0 : 3),
				apply: o.insert
			}))
		};
	}

	function editor(node: HTMLDivElement) {
		const view = new EditorView({
			parent: node,
			state: EditorState.create({
				doc: untrack(() => value),
				extensions: [
					history(),
					language,
					bracketMatching(),
					syntaxHighlighting(colours),
					autocompletion({ override: [complete], icons: false }),
					linter(
						(v) => {
							const text = v.state.doc.toString();
							const { errors } = checkFormula(text, names, result);
							onerrors?.(errors);
							return errors.map((e) => ({
								from: Math.min(e.span.from, text.length),
								to: Math.min(Math.max(e.span.to, e.span.from + 1), text.length),
								severity: 'error' as const,
								message: e.message
							}));
						},
						{ delay: 150 }
					),
					keymap.of([...completionKeymap, ...historyKeymap, ...defaultKeymap.filter((k) => k.key !== 'Tab')]),
					EditorView.lineWrapping,
					EditorView.contentAttributes.of({ 'aria-label': label }),
					EditorView.updateListener.of((u) => {
						if (u.docChanged) value = u.state.doc.toString();
					})
				]
			})
		});
		// After the dialog around it has taken the focus for its first button.
		if (focuses) setTimeout(() => view.focus(), 50);
		view.dispatch({ selection: { anchor: view.state.doc.length } });
		// Another text from outside, as when changes are discarded.
		$effect(() => {
			const { doc } = view.state;
			if (value !== doc.toString()) view.dispatch({ changes: { from: 0, to: doc.length, insert: value } });
		});
		return { destroy: () => view.destroy() };
	}
</script>

<div class="formula" use:editor></div>

<style>
	.formula {
		border: 1px solid var(--rule-strong);
		border-radius: 5px;
		background: var(--ground);
		color: var(--ink);
		min-height: 64px;
	}
	.formula :global(.cm-editor) {
		font-size: 13.5px;
		min-height: 64px;
		outline: none;
	}
	.formula :global(.cm-content) {
		font-family: var(--font-mono);
		caret-color: var(--ink);
	}
	.formula :global(.cm-tooltip) {
		background: var(--sheet);
		color: var(--ink);
		border: 1px solid var(--rule-strong);
	}
	.formula :global(.cm-tooltip-autocomplete ul li[aria-selected]) {
		background: var(--green-tint);
		color: var(--ink);
	}
	.formula :global(.cm-completionDetail) {
		color: var(--ink-2);
		font-style: normal;
	}
	.formula:focus-within {
		border-color: var(--green);
	}
</style>
