<!-- What the marks in a grid's cells mean, each drawn as in the grid, and what its keys do. -->
<script lang="ts">
	import type { Module } from '../../core/company/modules';
	import { useModules } from '../kit/modules';
	import Dialog from '../kit/Dialog.svelte';
	import './cells.css';

	interface Props {
		/** Whether the grid can be typed in. */
		types: boolean;
		onclose: () => void;
	}
	let { types, onclose }: Props = $props();

	interface Mark {
		look: string;
		text: string;
		words: string;
		/** Only where something can be typed. */
		typing?: boolean;
		/** Only where this part of the product is on. */
		module?: Module;
		glyphs?: string[];
	}
	const MARKS: Mark[] = [
		{ look: 'editable', text: '1,200', words: 'can be typed', typing: true },
		{ look: 'spreads', text: '4,800', words: 'a total that can be typed and is spread', typing: true },
		{ look: '', text: '1,200', words: 'calculated, or not to be typed now' },
		{ look: 'editable unsaved', text: '1,350', words: 'typed and not saved', typing: true },
		{ look: 'preview', text: '4,950', words: 'follows from what is not saved', typing: true },
		{ look: 'editable override', text: '1,300', words: 'typed over what its basis gives' },
		{ look: 'editable', text: '900', words: 'has a note', glyphs: ['note'] },
		{ look: 'editable', text: '900', words: 'is made up of items', glyphs: ['items'] },
		{ look: 'editable', text: '900', words: 'has a file', glyphs: ['attachment'] },
		{ look: 'blocked', text: '', words: 'a combination rule keeps data out', module: 'combinations' },
		{ look: 'error', text: '#DIV/0!', words: 'an error; open it to see why' },
		{
			look: 'mixed',
			text: 'mixed',
			words: 'amounts in several currencies, which have no sum in any of them',
			module: 'currencies'
		}
	];
	const KEYS: { keys: string; words: string; typing?: boolean }[] = [
		{ keys: 'Arrows, Ctrl+arrows', words: 'go from cell to cell, to the edge of what is filled' },
		{ keys: 'Shift+arrows', words: 'choose several cells; their sum stands below' },
		{ keys: 'Space', words: 'what a figure is made of, its notes and history' },
		{ keys: 'Alt+Enter', words: 'go to where it comes from; Alt+Backspace leads back' },
		{ keys: 'Alt+→, Alt+←', words: 'unfold, fold' },
		{ keys: 'F2 or typing', words: '1,200 · 12k · =1200*1.05 · +5%', typing: true },
		{ keys: 'Delete', words: 'clear, or take away what lies over a basis', typing: true },
		{ keys: 'Ctrl+C, Ctrl+X, Ctrl+V', words: 'copy, cut and paste, also with a spreadsheet' },
		{ keys: 'Ctrl+R, Ctrl+D', words: 'fill right, fill down', typing: true },
		{ keys: 'Ctrl+Z, Ctrl+Y', words: 'undo, redo, also over a save', typing: true },
		{ keys: 'Ctrl+S', words: 'save', typing: true },
		{ keys: 'Shift+F10', words: 'all that can be done with the chosen cells' },
		{ keys: 'Esc, then Tab', words: 'leave the grid', typing: true }
	];
	const isOn = useModules();
	const fits = ({ typing, module }: { typing?: boolean; module?: Module }) =>
		(types || !typing) && (!module || isOn(module));
</script>

<Dialog title="Marks and keys" action="Done" size="lg" reads onaction={onclose} {onclose}>
	<div class="both">
		<dl aria-label="Marks">
			{#each MARKS.filter(fits) as mark (mark.words)}
				<div>
					<dt aria-hidden="true">
						<span class="cell figure {mark.look}"
							><span class="value">{mark.text}</span>{#if mark.glyphs}<span class="glyphs"
									>{#each mark.glyphs as glyph (glyph)}<i class={glyph}></i>{/each}</span
								>{/if}</span
						>
					</dt>
					<dd>{mark.words}</dd>
				</div>
			{/each}
		</dl>
		<dl aria-label="Keys">
			{#each KEYS.filter(fits) as key (key.keys)}
				<div>
					<dt class="keys">{key.keys}</dt>
					<dd>{key.words}</dd>
				</div>
			{/each}
		</dl>
	</div>
</Dialog>

<style>
	.both {
		display: grid;
		grid-template-columns: 2fr 3fr;
		gap: 28px;
		font-size: 13px;
	}
	dl > div {
		display: flex;
		gap: 12px;
		align-items: center;
		min-height: 30px;
	}
	dt {
		--row: 27px;
		position: relative;
		flex: none;
		width: 76px;
		height: var(--row);
		background: var(--tint);
		border: 1px solid var(--rule);
	}
	/* The grid's cell fills the frame. */
	dt > :global(.cell) {
		position: relative;
		height: 100%;
		margin-bottom: 0;
		border-bottom: 0;
		cursor: default;
	}
	dt.keys {
		width: 168px;
		height: auto;
		background: none;
		border: 0;
		font-weight: 600;
	}
</style>
