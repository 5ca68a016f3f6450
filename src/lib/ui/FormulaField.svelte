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
	import { checkFormula, type Names } from '../core/formula/check';
	import { FUNCTIONS } from '../core/formula/functions';
	import { parser } from '../core/formula/grammar/parser';
	import type { FormulaError } from '../core/formula/ast';

	interface Props {
		value: string;
		names: Names;
		accounts: { code: string; name: string }[];
		/** Words for each line, beside its name. */
		labels: Record<string, string>;
		label: string;
		onerrors?: (errors: FormulaError[]) => void;
	}
	let { value = $bindable(), names, accounts, labels, label, onerrors }: Props = $props();

	const language = new LanguageSupport(LRLanguage.define({ name: 'formula', parser }));
	const colours = HighlightStyle.define([
		{ tag: tags.number, color: 'var(--timber)' },
		{ tag: tags.string, color: 'var(--slate)' },
		{ tag: tags.function(tags.variableName), color: 'var(--green)' },
		{ tag: tags.operator, color: 'var(--ink-2)' }
	]);

	function complete(context: CompletionContext) {
		const inText = context.matchBefore(/account\("[^"]*/);
		if (inText) {
			const from = inText.from + 'account("'.length;
			return {
				from,
				options: accounts.map((a) => ({ label: a.code, detail: a.name, apply: `${a.code}")` }))
			};
		}
		const word = context.matchBefore(/[A-Za-z_][A-Za-z0-9_]*(\.[A-Za-z0-9_]*)?/);
		if (!word && !context.explicit) return null;
		const from = word?.from ?? context.pos;
		return {
			from,
			options: [
				...names.lines.map((l) => ({ label: l, detail: labels[l], type: 'variable', boost: 2 })),
				...[...names.blocks].flatMap(([block, lines]) =>
					lines.map((l) => ({ label: `${block}.${l}`, detail: labels[`${block}.${l}`], type: 'variable' }))
				),
				...[...FUNCTIONS.values()].map((f) => ({
					label: f.name,
					detail: f.signature,
					info: f.help,
					type: 'function',
					apply: `${f.name}(`
				}))
			]
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
							const { errors } = checkFormula(text, names);
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
		setTimeout(() => view.focus(), 50);
		view.dispatch({ selection: { anchor: view.state.doc.length } });
		return { destroy: () => view.destroy() };
	}
</script>

<div class="field" use:editor></div>

<style>
	.field {
		border: 1px solid var(--rule-strong);
		border-radius: 5px;
		background: var(--ground);
		color: var(--ink);
		min-height: 64px;
	}
	.field :global(.cm-editor) {
		font-size: 13.5px;
		min-height: 64px;
		outline: none;
	}
	.field :global(.cm-content) {
		font-family: var(--font-mono);
		caret-color: var(--ink);
	}
	.field :global(.cm-tooltip) {
		background: var(--sheet);
		color: var(--ink);
		border: 1px solid var(--rule-strong);
	}
	.field :global(.cm-tooltip-autocomplete ul li[aria-selected]) {
		background: var(--green-tint);
		color: var(--ink);
	}
	.field :global(.cm-completionDetail) {
		color: var(--ink-2);
		font-style: normal;
	}
	.field:focus-within {
		border-color: var(--green);
	}
</style>
