<script lang="ts">
	import {
		cashRelevant,
		nonCashParts,
		resultAccount,
		resultGroups,
		revenueAccount,
		type KeyAccount
	} from '../../core/statements/key-figures';
	import type { Cell } from '../../core/engine/values';
	import type { NumberFormat } from '../../core/company/schema';
	import type { MeasureEffect } from '../../core/analysis/effects';
	import { exact, figure, share, type Figures } from '../writing/format';
	import Listing from '../kit/Listing.svelte';

	/** Figures without and with what is adjusted, and what the profit and loss is judged by: margins, and cash. */
	interface Row {
		key: string;
		name: string;
		format: NumberFormat;
		depth: number;
		upIsGood: boolean;
		/** Neither direction is good or bad. */
		neutral: boolean;
	}
	interface Props {
		caption: string;
		rows: readonly Row[];
		/** The chart, as `account:<code>` names them in what is measured. */
		accounts: readonly KeyAccount[];
		measured: Readonly<Record<string, MeasureEffect>>;
		figures: Figures;
	}
	let { caption, rows, accounts, measured, figures }: Props = $props();

	const number = (v: Cell) => (typeof v === 'number' ? v : 0);
	const of = ({ code }: { code: string }): MeasureEffect | undefined => measured[`account:${code}`];
	const shown = $derived(
		rows.filter(({ key }) => measured[key] && (measured[key].without !== null || measured[key].with !== null))
	);
	const margins = $derived.by(() => {
		const revenue = revenueAccount(accounts);
		const base = revenue && of(revenue);
		if (!base || !number(base.without) || !number(base.with)) return [];
		return resultGroups(accounts).flatMap((group) => {
			const own = of(group);
			if (!own || !rows.some((r) => r.key === `account:${group.code}`)) return [];
			const [a, b] = [number(own.without) / number(base.without), number(own.with) / number(base.with)];
			return [
				{
					name: `${group.name}, of ${revenue.name}`,
					without: a,
					with: b,
					points: Math.round((b - a) * 1000) / 10
				}
			];
		});
	});
	const cash = $derived.by(() => {
		const result = resultAccount(accounts);
		const parts = nonCashParts(accounts);
		const own = result && of(result);
		if (!own || !parts.length) return null;
		const side = (which: 'without' | 'with') =>
			cashRelevant(
				number(own[which]),
				parts,
				parts.map((p) => number(of(p.account)?.[which] ?? null))
			);
		return {
			name: `${result.name}, cash-relevant`,
			words: `${result.name} without what is never paid: ${parts.map((p) => p.account.name).join(', ')}. Changes of stock, receivables and payables are not in it.`,
			without: side('without'),
			with: side('with')
		};
	});
</script>

{#snippet money(
	name: string,
	key: string,
	strong: boolean,
	title: string,
	without: Cell,
	withThem: Cell,
	format: NumberFormat,
	good: 1 | -1 | 0
)}
	{@const difference = number(withThem) - number(without)}
	<tr class:strong data-measure={key}>
		<th scope="row" {title}>{name}</th>
		<td title={exact(without, format)}>{figure(without, format, figures)}</td>
		<td title={exact(withThem, format)}>{figure(withThem, format, figures)}</td>
		<td class:good={difference * good > 0} class:bad={difference * good < 0} title={exact(difference, format)}
			>{figure(difference, format, figures)}</td
		>
		<td>{number(without) === 0 ? '' : share(difference / Math.abs(number(without)))}</td>
	</tr>
{/snippet}

<Listing bare class="w-full">
	<thead>
		<tr><th>{caption}</th><th>Without</th><th>With</th><th>Difference</th><th>%</th></tr>
	</thead>
	<tbody>
		{#each shown as r (r.key)}
			{@const e = measured[r.key]}
			{@render money(
				r.name,
				r.key,
				r.depth < 2,
				'',
				e.without,
				e.with,
				r.format,
				r.neutral ? 0 : r.upIsGood ? 1 : -1
			)}
		{/each}
		{#if cash}
			{@render money(cash.name, 'cash', true, cash.words, cash.without, cash.with, 'money', 1)}
		{/if}
		{#each margins as m (m.name)}
			<tr class="margin">
				<th scope="row">{m.name}</th>
				<td>{share(m.without)}</td>
				<td>{share(m.with)}</td>
				<td class:good={m.points > 0} class:bad={m.points < 0}
					>{m.points > 0 ? '+' : ''}{figure(m.points, 'number', 'cents')} pts</td
				>
				<td></td>
			</tr>
		{/each}
	</tbody>
</Listing>

<style>
	th,
	td {
		padding: 3px 6px;
		text-align: right;
		border-bottom: 1px solid var(--rule);
		font-weight: 400;
	}
	thead th {
		color: var(--ink-2);
		font-size: 12px;
	}
	th:first-child {
		text-align: left;
		padding-left: 0;
	}
	.strong th,
	.strong td {
		font-weight: 600;
	}
	.good {
		color: var(--green);
	}
	.bad {
		color: var(--clay);
	}
	.margin {
		color: var(--ink-2);
		font-size: 12.5px;
	}
</style>
