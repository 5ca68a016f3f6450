<script lang="ts">
	import { createVirtualizer } from '@tanstack/svelte-virtual';
	import { onMount, tick, untrack } from 'svelte';
	import { get } from 'svelte/store';
	import type { Calendar } from '../core/calendar/calendar';
	import type { Edit, EditBatch } from './edits.svelte';
	import { exact, figure, plain, readFigure, readTyped, type Figures } from './format';
	import type { GridCell, GridColumn, GridRow } from './grid';
	import Bar from './Bar.svelte';
	import RodSegment from './RodSegment.svelte';
	import Shape from './Shape.svelte';

	interface Props {
		label: string;
		head: string;
		columns: GridColumn[];
		rows: GridRow[];
		calendar: Calendar;
		/** First open period. */
		open: number;
		figures: Figures;
		edits?: EditBatch;
		labelWidth?: number;
		/** A single click opens the figure; else a double click or Space does. */
		opensOnClick?: boolean;
		/** Begins scrolled to the first open month, where the closed ones hold little. */
		startsAtOpen?: boolean;
		onopen?: (row: GridRow, column: GridColumn) => void;
		onaction?: (row: GridRow, column: GridColumn) => void;
		ontoggle?: (row: GridRow) => void;
		/** A figure was typed into a total; null asks what it is to be. */
		onspread?: (row: GridRow, column: GridColumn, value: number | null) => void;
		/** Something worth saying: a paste that did not fit, a word that is no number. */
		onsay?: (message: string) => void;
	}
	let {
		label,
		head,
		columns,
		rows,
		calendar,
		open,
		figures,
		edits,
		labelWidth = 200,
		opensOnClick = false,
		startsAtOpen = false,
		onopen,
		onaction,
		ontoggle,
		onspread,
		onsay
	}: Props = $props();

	const id = $props.id();
	const ROW = 27;
	const HEAD = 44;
	let scroller: HTMLDivElement | undefined = $state();
	let active = $state({ r: 0, c: 0 });
	let anchor = $state({ r: 0, c: 0 });
	let editing = $state<{ r: number; c: number; text: string } | null>(null);
	let focused = $state(false);
	let dragging = false;

	const virtual = createVirtualizer<HTMLDivElement, HTMLDivElement>({
		count: untrack(() => rows.length),
		getScrollElement: () => scroller ?? null,
		estimateSize: () => ROW,
		overscan: 12,
		initialRect: { width: 1100, height: 900 }
	});
	$effect(() => {
		const count = rows.length;
		void scroller;
		untrack(() => get(virtual).setOptions({ count, getScrollElement: () => scroller ?? null }));
		if (active.r >= count) active = { r: Math.max(0, count - 1), c: active.c };
	});

	const template = $derived(
		`${labelWidth}px ${columns.map((c) => (c.grows ? `minmax(${c.width}px, 1fr)` : `${c.width}px`)).join(' ')}`
	);
	const grows = $derived(columns.some((c) => c.grows));
	const width = $derived(labelWidth + columns.reduce((w, c) => w + c.width, 0));
	/** Where a frozen column stays; null for those that scroll. */
	const stays = $derived(
		columns.map((column, c) =>
			column.frozen ? labelWidth + columns.slice(0, c).reduce((w, x) => w + x.width, 0) : null
		)
	);
	const frozenWidth = $derived(labelWidth + columns.reduce((w, c) => w + (c.frozen ? c.width : 0), 0));
	const firstPeriod = $derived(columns.findIndex((c) => c.period !== undefined));
	const inputFigures = $derived(figures === 'thousand' && edits ? 'whole' : figures);

	// What stands in a cell now: typed and not saved, or as loaded.
	const pending = (row: GridRow, column: GridColumn): Edit | undefined => edits?.at(row.key, column.key);
	const format = (row: GridRow, cell: GridCell) => cell.format ?? row.format;
	function shown(row: GridRow, column: GridColumn, cell: GridCell): string {
		if (column.kind === 'text') return cell.text ?? '';
		const edit = pending(row, column);
		return figure(edit ? edit.value : cell.value, format(row, cell), inputFigures);
	}
	const range = $derived({
		top: Math.min(active.r, anchor.r),
		bottom: Math.max(active.r, anchor.r),
		left: Math.min(active.c, anchor.c),
		right: Math.max(active.c, anchor.c)
	});
	const inRange = (r: number, c: number) =>
		r >= range.top && r <= range.bottom && c >= range.left && c <= range.right;
	const several = $derived(range.top !== range.bottom || range.left !== range.right);
	const summary = $derived.by(() => {
		if (!several) return '';
		const numbers: number[] = [];
		for (let r = range.top; r <= range.bottom; r++)
			for (let c = range.left; c <= range.right; c++) {
				const [row, column] = [rows[r], columns[c]];
				if (column?.kind !== 'figure' || !row?.cells[c]) continue;
				const edit = pending(row, column);
				const value = edit ? edit.value : row.cells[c].value;
				if (typeof value === 'number') numbers.push(value);
			}
		if (!numbers.length) return '';
		const sum = numbers.reduce((a, b) => a + b, 0);
		const show = (v: number) => figure(v, 'money', 'cents');
		return `Sum ${show(sum)} · Average ${show(sum / numbers.length)} · Count ${numbers.length}`;
	});

	/** Focuses a cell, for pages that lead here. */
	export function goTo(rowKey: string, columnKey: string) {
		const r = rows.findIndex((row) => row.key === rowKey);
		const c = columns.findIndex((column) => column.key === columnKey);
		if (r < 0 || c < 0) return;
		select(r, c);
		scroller?.focus();
	}

	function select(r: number, c: number, extend = false) {
		active = { r: clamp(r, rows.length), c: clamp(c, columns.length) };
		if (!extend) anchor = { ...active };
		void reveal();
	}
	const clamp = (v: number, n: number) => Math.max(0, Math.min(n - 1, v));

	async function reveal() {
		await tick();
		if (!scroller) return;
		// Rows are of one height, so that the place of each is known before it is drawn.
		const top = active.r * ROW;
		const visible = scroller.clientHeight - HEAD;
		if (top < scroller.scrollTop) scroller.scrollTop = top;
		else if (top + ROW > scroller.scrollTop + visible) scroller.scrollTop = top + ROW - visible;
		const left = labelWidth + columns.slice(0, active.c).reduce((w, c) => w + c.width, 0);
		const right = left + (columns[active.c]?.width ?? 0);
		if (columns[active.c]?.frozen) return;
		if (left - frozenWidth < scroller.scrollLeft) scroller.scrollLeft = left - frozenWidth;
		else if (right > scroller.scrollLeft + scroller.clientWidth)
			scroller.scrollLeft = right - scroller.clientWidth;
	}

	/** The next cell in a direction where filled and empty meet, as spreadsheets do. */
	function edge(dr: number, dc: number): [number, number] {
		const filled = (r: number, c: number) =>
			rows[r]?.cells[c] !== undefined && rows[r].cells[c].value !== null;
		let { r, c } = active;
		const inside = (y: number, x: number) => y >= 0 && y < rows.length && x >= 0 && x < columns.length;
		const start = inside(r + dr, c + dc) && filled(r, c) && filled(r + dr, c + dc);
		while (inside(r + dr, c + dc)) {
			if (start && !filled(r + dr, c + dc)) break;
			r += dr;
			c += dc;
			if (!start && filled(r, c)) break;
		}
		return [r, c];
	}

	const ARROWS: Record<string, [number, number]> = {
		ArrowUp: [-1, 0],
		ArrowDown: [1, 0],
		ArrowLeft: [0, -1],
		ArrowRight: [0, 1]
	};

	function onkeydown(event: KeyboardEvent) {
		if (editing || !rows.length) return;
		const control = event.ctrlKey || event.metaKey;
		const row = rows[active.r];
		const column = columns[active.c];
		const page = Math.max(1, Math.floor(((scroller?.clientHeight ?? 400) - HEAD) / ROW) - 1);
		const done = () => event.preventDefault();
		if (event.key in ARROWS) {
			const [dr, dc] = ARROWS[event.key];
			if (event.altKey && row?.toggle && dc !== 0) {
				if (dc > 0 === (row.toggle === 'closed')) ontoggle?.(row);
				return done();
			}
			const [r, c] = control ? edge(dr, dc) : [active.r + dr, active.c + dc];
			select(r, c, event.shiftKey);
			return done();
		}
		switch (event.key) {
			case 'Home':
				select(control ? 0 : active.r, 0, event.shiftKey);
				return done();
			case 'End':
				select(control ? rows.length - 1 : active.r, columns.length - 1, event.shiftKey);
				return done();
			case 'PageDown':
				select(active.r + page, active.c, event.shiftKey);
				return done();
			case 'PageUp':
				select(active.r - page, active.c, event.shiftKey);
				return done();
			case ' ':
				if (row?.cells[active.c] && column.kind === 'figure') onopen?.(row, column);
				else if (row?.toggle) ontoggle?.(row);
				return done();
			case 'Enter':
			case 'F2':
				if (row?.cells[active.c]?.action) onaction?.(row, column);
				else if (row?.cells[active.c]?.editable || row?.cells[active.c]?.spreads) startEditing();
				else if (row?.toggle && event.key === 'Enter') ontoggle?.(row);
				else if (event.key === 'Enter' && column?.kind === 'figure' && row?.cells[active.c])
					onopen?.(row, column);
				return done();
			case 'Delete':
			case 'Backspace':
				clearRange();
				return done();
			case 'Escape':
				anchor = { ...active };
				return;
		}
		if (control && edits) {
			const key = event.key.toLowerCase();
			if (key === 'z' && !event.shiftKey) {
				edits.undo();
				return done();
			}
			if (key === 'y' || (key === 'z' && event.shiftKey)) {
				edits.redo();
				return done();
			}
			if (key === 'r' && several) {
				fill('right');
				return done();
			}
			if (key === 'd' && several) {
				fill('down');
				return done();
			}
		}
		if (!control && !event.altKey && event.key.length === 1 && typable(row?.cells[active.c])) {
			startEditing(event.key);
			done();
		} else if (!control && !event.altKey && /^[0-9]$/.test(event.key) && row?.cells[active.c] && edits)
			onsay?.(row.cells[active.c].title ?? 'This figure is calculated and cannot be typed.');
	}

	const typable = (cell: GridCell | undefined) => cell?.editable === true || cell?.spreads === true;

	function startEditing(first?: string) {
		const row = rows[active.r];
		const column = columns[active.c];
		const cell = row.cells[active.c];
		const edit = pending(row, column);
		const value = edit ? edit.value : cell.value;
		const asPercent = format(row, cell) === 'percent' && typeof value === 'number';
		const text = asPercent ? `${Number((value * 100).toPrecision(12))}%` : plain(value);
		editing = { ...active, text: first ?? text };
	}

	/** Holds typing in the input until it is committed; the grid takes the focus back. */
	function input(node: HTMLInputElement) {
		node.focus();
		if (editing && node.value.length > 1) node.select();
	}

	function commit(move: [number, number] | null) {
		if (!editing) return;
		const { r, c, text } = editing;
		const row = rows[r];
		const edit = pending(row, columns[c]);
		const value = readTyped(text, format(row, row.cells[c]), edit ? edit.value : row.cells[c].value);
		if (value === undefined) {
			onsay?.(
				`“${text}” is no number. Type one such as 1,234.50, 12k, =1200*1.05 or +5%, or leave the cell empty.`
			);
			return;
		}
		editing = null;
		const cell = row.cells[c];
		if (cell.spreads && !cell.editable) {
			scroller?.focus();
			if (value !== null && value !== cell.value) onspread?.(row, columns[c], value);
			return;
		}
		put([{ r, c, value }]);
		scroller?.focus();
		if (move) select(r + move[0], c + move[1]);
	}

	function put(list: { r: number; c: number; value: number | null }[]) {
		edits?.apply(
			list.map(({ r, c, value }) => {
				const [row, column] = [rows[r], columns[c]];
				return { row: row.key, column: column.key, before: row.cells[c].typed ?? null, value };
			})
		);
	}

	function onInputKey(event: KeyboardEvent) {
		event.stopPropagation();
		if (event.key === 'Enter') commit([event.shiftKey ? -1 : 1, 0]);
		else if (event.key === 'Tab') commit([0, event.shiftKey ? -1 : 1]);
		else if (event.key === 'Escape') {
			editing = null;
			scroller?.focus();
		} else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 's') {
			// The page saves; what is being typed belongs to it.
			commit(null);
			scroller?.dispatchEvent(new KeyboardEvent('keydown', { key: 's', ctrlKey: true, bubbles: true }));
		} else return;
		event.preventDefault();
	}

	function cellsInRange(): { r: number; c: number }[] {
		const list: { r: number; c: number }[] = [];
		for (let r = range.top; r <= range.bottom; r++)
			for (let c = range.left; c <= range.right; c++) list.push({ r, c });
		return list;
	}
	const writable = (r: number, c: number) => rows[r]?.cells[c]?.editable === true;

	function clearRange() {
		const list = cellsInRange().filter(({ r, c }) => writable(r, c));
		if (list.length) put(list.map((at) => ({ ...at, value: null })));
		else if (edits) onsay?.('There is nothing here that can be cleared.');
	}

	function fill(direction: 'right' | 'down') {
		const list = cellsInRange().filter(
			({ r, c }) => writable(r, c) && (direction === 'right' ? c > range.left : r > range.top)
		);
		const source = (r: number, c: number) => {
			const [row, at] = direction === 'right' ? [rows[r], range.left] : [rows[range.top], c];
			const edit = pending(row, columns[at]);
			const value = edit ? edit.value : row.cells[at]?.value;
			return typeof value === 'number' ? value : null;
		};
		put(list.map(({ r, c }) => ({ r, c, value: source(r, c) })));
	}

	function oncopy(event: ClipboardEvent) {
		if (editing) return;
		const lines: string[] = [];
		for (let r = range.top; r <= range.bottom; r++) {
			const line: string[] = [];
			for (let c = range.left; c <= range.right; c++) {
				const [row, column] = [rows[r], columns[c]];
				const cell = row.cells[c];
				if (!cell || column.kind === 'shape' || column.kind === 'bar') line.push('');
				else if (column.kind === 'text') line.push(cell.text ?? '');
				else {
					const edit = pending(row, column);
					line.push(plain(edit ? edit.value : cell.value));
				}
			}
			lines.push(line.join('\t'));
		}
		event.clipboardData?.setData('text/plain', lines.join('\n'));
		event.preventDefault();
	}

	function onpaste(event: ClipboardEvent) {
		if (editing || !edits) return;
		const text = event.clipboardData?.getData('text/plain') ?? '';
		if (!text) return;
		event.preventDefault();
		const block = text
			.replace(/\r\n?/g, '\n')
			.replace(/\n$/, '')
			.split('\n')
			.map((line) => line.split('\t'));
		// One value pasted over a range fills it.
		const one = block.length === 1 && block[0].length === 1;
		const targets = one
			? cellsInRange().map((at) => ({ ...at, text: block[0][0] }))
			: block.flatMap((line, i) => line.map((t, j) => ({ r: range.top + i, c: range.left + j, text: t })));
		let refused = 0;
		const wrong: string[] = [];
		const list: { r: number; c: number; value: number | null }[] = [];
		for (const { r, c, text: t } of targets) {
			if (!writable(r, c)) {
				refused++;
				continue;
			}
			const value = readFigure(t, format(rows[r], rows[r].cells[c]));
			if (value === undefined) wrong.push(t);
			else list.push({ r, c, value });
		}
		put(list);
		if (!one && list.length) {
			anchor = { r: range.top, c: range.left };
			active = {
				r: clamp(anchor.r + block.length - 1, rows.length),
				c: clamp(anchor.c + Math.max(...block.map((l) => l.length)) - 1, columns.length)
			};
		}
		const parts = [`${list.length} ${list.length === 1 ? 'cell' : 'cells'} pasted.`];
		if (refused)
			parts.push(
				`${refused} fell on cells that cannot be typed and ${refused === 1 ? 'was' : 'were'} left out.`
			);
		if (wrong.length)
			parts.push(
				`No numbers, left out: ${wrong
					.slice(0, 3)
					.map((w) => `“${w}”`)
					.join(', ')}${wrong.length > 3 ? ' …' : ''}.`
			);
		onsay?.(parts.join(' '));
	}

	function pointer(event: PointerEvent, r: number, c: number) {
		if (event.button !== 0) return;
		if (editing) commit(null);
		dragging = true;
		select(r, c, event.shiftKey);
	}
	function enter(r: number, c: number) {
		if (!dragging) return;
		active = { r, c };
	}
	function click(row: GridRow, column: GridColumn, cell: GridCell | undefined) {
		if (!cell || several) return;
		if (cell.action) onaction?.(row, column);
		else if (opensOnClick && column.kind === 'figure') onopen?.(row, column);
	}
	function double(row: GridRow, column: GridColumn, cell: GridCell | undefined) {
		if (cell?.editable) startEditing();
		else if (cell && column.kind === 'figure') onopen?.(row, column);
	}
	onMount(() => {
		const first = columns.findIndex((c) => c.period === open);
		// One closed month stays in sight, so that the boundary is.
		if (startsAtOpen && first > 1 && scroller)
			scroller.scrollLeft = columns.slice(0, first - 1).reduce((w, c) => w + (c.frozen ? 0 : c.width), 0);
		// What is chosen stays in sight when the side sheet or a bar takes room.
		const watch = new ResizeObserver(() => {
			if (focused) void reveal();
		});
		if (scroller) watch.observe(scroller);
		const stop = () => (dragging = false);
		window.addEventListener('pointerup', stop);
		return () => {
			watch.disconnect();
			window.removeEventListener('pointerup', stop);
		};
	});

	const describe = (row: GridRow, column: GridColumn, cell: GridCell): string => {
		const parts: string[] = [];
		if (pending(row, column)) parts.push('not saved');
		else if (cell.preview) parts.push('with what is not saved');
		if (cell.override) parts.push('typed over its basis');
		if (column.period !== undefined && column.period < open) parts.push('closed');
		else if (cell.editable) parts.push('can be typed');
		else if (cell.spreads) parts.push('a total that can be typed and is spread');
		return parts.length ? `, ${parts.join(', ')}` : '';
	};
</script>

<div class="frame">
	<div
		bind:this={scroller}
		class="scroller"
		role="treegrid"
		tabindex="0"
		aria-label={label}
		aria-rowcount={rows.length + 1}
		aria-colcount={columns.length + 1}
		aria-multiselectable="true"
		aria-activedescendant={rows.length ? `${id}-${active.r}-${active.c}` : undefined}
		{onkeydown}
		{oncopy}
		{onpaste}
		onfocus={() => (focused = true)}
		onblur={() => (focused = false)}
	>
		<div
			class="head"
			role="row"
			aria-rowindex={1}
			style:grid-template-columns={template}
			style:width="{width}px"
			style:min-width={grows ? '100%' : undefined}
		>
			<div class="corner" role="columnheader" aria-colindex={1}>{head}</div>
			{#each columns as column, c (column.key)}
				<div
					class="title"
					class:words={column.kind !== 'figure' && column.align !== 'right'}
					class:apart={column.apart}
					class:frozen={column.frozen}
					style:left={stays[c] === null ? undefined : `${stays[c]}px`}
					class:openmonth={column.period !== undefined && column.period >= open}
					role="columnheader"
					aria-colindex={c + 2}
				>
					<span>{column.label}</span>
					{#if column.period !== undefined}
						<RodSegment {calendar} period={column.period} {open} first={c === firstPeriod} />
					{:else}
						<span class="norod"></span>
					{/if}
				</div>
			{/each}
		</div>
		<div
			class="body"
			role="presentation"
			style:height="{$virtual.getTotalSize()}px"
			style:width="{width}px"
			style:min-width={grows ? '100%' : undefined}
		>
			{#each $virtual.getVirtualItems() as item (item.index)}
				{@const row = rows[item.index]}
				{#if row}
					{@const r = item.index}
					<div
						class="row {row.kind}"
						role="row"
						aria-rowindex={r + 2}
						aria-level={row.depth + 1}
						aria-expanded={row.toggle ? row.toggle === 'open' : undefined}
						style:grid-template-columns={template}
						style:transform="translateY({item.start}px)"
						data-row={row.key}
					>
						<div
							class="name"
							role="rowheader"
							aria-colindex={1}
							style:padding-left="{8 + row.depth * 14}px"
							title={row.label}
						>
							{#if row.toggle}
								<button
									class="toggle"
									tabindex="-1"
									aria-label="{row.toggle === 'open' ? 'Fold' : 'Unfold'} {row.label}"
									onclick={() => ontoggle?.(row)}>{row.toggle === 'open' ? '▾' : '▸'}</button
								>
							{:else}<span class="notoggle"></span>{/if}
							<span class="words">{row.label}</span>
							{#if row.note}<span class="unit">{row.note}</span>{/if}
							{#if row.mark}<span class="mark" title={row.mark} role="img" aria-label={row.mark}></span>{/if}
						</div>
						{#each columns as column, c (column.key)}
							{@const cell = row.cells[c]}
							{@const isActive = active.r === r && active.c === c}
							<!-- svelte-ignore a11y_click_events_have_key_events -->
							<!-- svelte-ignore a11y_interactive_supports_focus -->
							<div
								id="{id}-{r}-{c}"
								class="cell {column.kind}"
								class:apart={column.apart}
								class:frozen={column.frozen}
								style:left={stays[c] === null ? undefined : `${stays[c]}px`}
								class:rightward={column.align === 'right'}
								class:editable={cell?.editable}
								class:spreads={cell?.spreads && !cell.editable}
								class:unsaved={cell && pending(row, column)}
								class:preview={cell?.preview && !pending(row, column)}
								class:override={cell?.override && !pending(row, column)}
								class:error={typeof cell?.value === 'string'}
								class:good={cell?.tone === 'good'}
								class:bad={cell?.tone === 'bad'}
								class:attention={cell?.tone === 'attention'}
								class:action={cell?.action}
								class:chosen={several && inRange(r, c)}
								class:active={isActive}
								class:focused={isActive && focused}
								role="gridcell"
								aria-colindex={c + 2}
								aria-selected={inRange(r, c)}
								aria-readonly={cell?.editable ? undefined : true}
								data-column={column.key}
								title={cell?.title ??
									(cell && column.kind === 'figure' && cell.value !== null
										? exact(cell.value, format(row, cell))
										: undefined)}
								onpointerdown={(e) => pointer(e, r, c)}
								onpointerenter={() => enter(r, c)}
								onclick={() => click(row, column, cell)}
								ondblclick={() => double(row, column, cell)}
							>
								{#if editing && editing.r === r && editing.c === c}
									<input
										class="typing"
										aria-label="{row.label}, {column.label}"
										bind:value={editing.text}
										use:input
										onkeydown={onInputKey}
										onblur={() => commit(null)}
									/>
								{:else if cell}
									{#if column.kind === 'shape'}
										<Shape values={cell.values ?? []} />
									{:else if column.kind === 'bar'}
										<Bar value={typeof cell.value === 'number' ? cell.value : 0} bad={cell.tone === 'bad'} />
									{:else}
										<span class="value">{shown(row, column, cell)}</span>
										{#if isActive && focused}<span class="sr-only">{describe(row, column, cell)}</span>{/if}
									{/if}
								{/if}
							</div>
						{/each}
					</div>
				{/if}
			{/each}
		</div>
	</div>
	<div class="foot" class:empty={!summary} aria-live="polite">{summary}</div>
</div>

<style>
	.frame {
		display: flex;
		flex-direction: column;
		min-height: 0;
		flex: 1;
		border: 1px solid var(--rule);
		background: var(--tint);
	}
	.scroller {
		overflow: auto;
		flex: 1;
		min-height: 0;
		position: relative;
		font-size: 13px;
		outline: none;
	}
	.scroller:focus-visible {
		box-shadow: inset 0 0 0 1px var(--green);
	}
	.head {
		display: grid;
		position: sticky;
		top: 0;
		z-index: 3;
		height: 44px;
		background: var(--ground);
		border-bottom: 1px solid var(--rule-strong);
	}
	.corner {
		position: sticky;
		left: 0;
		z-index: 1;
		background: var(--ground);
		align-self: stretch;
		display: flex;
		align-items: end;
		padding: 0 8px 4px;
		font-weight: 600;
		color: var(--ink-2);
		border-right: 1px solid var(--rule-strong);
	}
	.title {
		display: flex;
		flex-direction: column;
		justify-content: space-between;
		font-weight: 600;
		padding-top: 4px;
		min-width: 0;
	}
	.title > span {
		text-align: right;
		padding-right: 6px;
		white-space: nowrap;
		overflow: hidden;
		text-overflow: ellipsis;
	}
	.title.words > span {
		text-align: left;
		padding-left: 8px;
	}
	.title.openmonth > span {
		font-weight: 400;
		color: var(--ink-2);
	}
	.norod {
		height: 20px;
	}
	.title:not(:has(.segment)) {
		justify-content: flex-end;
		padding-bottom: 4px;
	}
	.title:not(:has(.segment)) .norod {
		display: none;
	}
	.body {
		position: relative;
	}
	.row {
		display: grid;
		position: absolute;
		top: 0;
		left: 0;
		height: 27px;
		width: 100%;
	}
	.name {
		position: sticky;
		left: 0;
		z-index: 2;
		display: flex;
		align-items: center;
		gap: 4px;
		padding-right: 6px;
		background: var(--ground);
		border-right: 1px solid var(--rule-strong);
		border-bottom: 1px solid var(--rule);
		min-width: 0;
	}
	.name .words {
		overflow: hidden;
		text-overflow: ellipsis;
		white-space: nowrap;
	}
	.name .unit {
		color: var(--ink-2);
		font-size: 11px;
		white-space: nowrap;
		overflow: hidden;
		text-overflow: ellipsis;
		flex-shrink: 2;
	}
	.mark {
		margin-left: auto;
		width: 9px;
		height: 9px;
		border-right: 2px solid var(--clay);
		border-bottom: 2px solid var(--clay);
		flex: none;
	}
	.toggle,
	.notoggle {
		width: 16px;
		flex: none;
		text-align: center;
		color: var(--ink-2);
		line-height: 1;
	}
	.cell {
		position: relative;
		display: flex;
		align-items: center;
		justify-content: flex-end;
		padding: 0 6px;
		border-bottom: 1px solid var(--rule);
		white-space: nowrap;
		overflow: hidden;
		cursor: cell;
		font-variant-numeric: tabular-nums;
		user-select: none;
	}
	.cell.text,
	.cell.bar,
	.cell.shape {
		justify-content: flex-start;
		background: var(--ground);
		cursor: default;
	}
	.cell.rightward {
		justify-content: flex-end;
		font-variant-numeric: tabular-nums;
	}
	.cell.action {
		cursor: pointer;
	}
	.cell.action .value {
		text-decoration: underline dotted;
		text-underline-offset: 3px;
	}
	.cell.text .value {
		overflow: hidden;
		text-overflow: ellipsis;
	}
	.title.frozen,
	.cell.frozen {
		position: sticky;
		z-index: 2;
		background: var(--ground);
		border-right: 1px solid var(--rule-strong);
	}
	.apart {
		border-left: 1px solid var(--rule-strong);
	}
	.heading .name,
	.heading .cell {
		color: var(--ink-2);
		font-weight: 600;
	}
	.total .name,
	.total .cell {
		font-weight: 600;
		border-top: 1px solid var(--ink-2);
	}
	.part .name {
		color: var(--ink-2);
	}
	.editable {
		background: var(--sheet);
	}
	.spreads::after {
		content: '';
		position: absolute;
		left: 6px;
		right: 6px;
		bottom: 3px;
		border-bottom: 1px dashed var(--rule-strong);
	}
	.editable::after {
		content: '';
		position: absolute;
		left: 6px;
		right: 6px;
		bottom: 3px;
		border-bottom: 1px dotted var(--rule-strong);
	}
	.unsaved {
		background: var(--plum-tint);
		color: var(--plum);
		font-style: italic;
		font-weight: 600;
	}
	.preview {
		color: var(--plum);
		font-style: italic;
	}
	.unsaved::before {
		content: '';
		position: absolute;
		left: 0;
		top: 2px;
		bottom: 2px;
		width: 3px;
		background: var(--plum);
	}
	.override .value::before {
		content: '^';
		color: var(--timber);
		font-weight: 600;
		padding-right: 2px;
	}
	.good {
		color: var(--green);
	}
	.bad,
	.error,
	.attention {
		color: var(--clay);
	}
	.error {
		font-family: var(--font-mono);
		font-size: 11px;
	}
	.chosen {
		background: var(--green-tint);
	}
	.active {
		box-shadow: inset 0 0 0 1px var(--rule-strong);
	}
	.active.focused {
		box-shadow: inset 0 0 0 2px var(--green);
	}
	.typing {
		position: absolute;
		inset: 0;
		padding: 0 7px;
		text-align: right;
		font: inherit;
		color: var(--ink);
		background: var(--sheet);
		border: 2px solid var(--plum);
		outline: none;
	}
	.foot.empty {
		display: none;
	}
	.foot {
		min-height: 22px;
		padding: 2px 10px;
		font-size: 12px;
		color: var(--ink-2);
		text-align: right;
		background: var(--ground);
		border-top: 1px solid var(--rule);
	}
</style>
