<script lang="ts">
	import type { MovedFigures } from '../../core/views/chart-row';
	import type { NumberFormat } from '../../core/company/schema';
	import { useCompany } from '../shell/company';
	import { exact } from '../writing/format';

	/** Figures that a change would move, by scenario. */
	let { moved, format = 'money' }: { moved: readonly MovedFigures[]; format?: NumberFormat } = $props();
	const company = useCompany();
	/** A currency is said where there are several. */
	const said = ({ currency, amount }: MovedFigures) =>
		amount === null
			? 'an exchange rate is missing'
			: `${company.data.money.local === company.data.money.reporting || format !== 'money' ? '' : `${currency} `}${exact(amount, format)}`;
</script>

<ul>
	{#each moved as m (m.scenario)}<li><span>{m.scenario}</span><span class="num">{said(m)}</span></li>{/each}
</ul>

<style>
	li {
		display: flex;
		justify-content: space-between;
		border-bottom: 1px solid var(--rule);
		padding: 3px 0;
	}
</style>
