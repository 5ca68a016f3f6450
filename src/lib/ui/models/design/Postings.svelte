<script lang="ts">
	import Button from '../../kit/form/Button.svelte';
	import type { Line, Posting } from '../../../core/blocks/driver-model/schema';
	import { targetFrom, targetText, type DesignDimension } from './design';
	import Moves from './Moves.svelte';
	import WherePick from './WherePick.svelte';
	import Choice from '../../kit/form/Choice.svelte';

	/** Where a line's values go: an account and a department, fixed or by an attribute of a member. */
	interface Props {
		line: Line;
		postings: readonly Posting[];
		dimensions: readonly DesignDimension[];
		/** Those that take figures. */
		accounts: readonly { code: string; name: string }[];
		departments: readonly { code: string; name: string }[];
		disabled: boolean;
		onchange: (postings: Posting[]) => void;
	}
	let { line, postings, dimensions, accounts, departments, disabled, onchange }: Props = $props();
	const put = (i: number, more: Partial<Posting>) => onchange(postings.with(i, { ...postings[i], ...more }));
	const attributes = $derived(
		dimensions.flatMap((d) =>
			['code', ...d.attributes].map((a) => ({
				value: `${d.code}.${a}`,
				name: a === 'code' ? `the ${d.name.toLowerCase()} itself` : `${a} of the ${d.name.toLowerCase()}`
			}))
		)
	);
	const targets = $derived([
		{ field: 'account' as const, name: 'Account', list: accounts },
		{ field: 'department' as const, name: 'Department', list: departments }
	]);
</script>

{#each postings as posting, i (i)}
	{@const about = `posting ${i + 1} of ${line.label}`}
	<div class="posting">
		<span class="number">{i + 1}</span>
		<div class="parts">
			<WherePick
				{dimensions}
				where={posting.where}
				{about}
				{disabled}
				onchange={(where) => put(i, { where })}
			/>
		</div>
		<div class="parts to">
			{#each targets as t (t.field)}
				<span>{t.field === 'account' ? 'to' : 'in'}</span>
				<Choice
					style="max-width: 280px"
					aria-label="{t.name} of {about}"
					{disabled}
					value={targetText(posting[t.field])}
					onpick={(v) => put(i, { [t.field]: targetFrom(v) })}
				>
					{#if attributes.length}
						<optgroup label="{t.name} by">
							{#each attributes as a (a.value)}<option value={a.value}>{a.name}</option>{/each}
						</optgroup>
					{/if}
					<optgroup label={t.name}>
						{#each t.list as x (x.code)}<option value="={x.code}"
								>{t.field === 'account' ? `${x.code} ` : ''}{x.name}</option
							>{/each}
					</optgroup>
				</Choice>
			{/each}
		</div>
		<Moves list={postings} at={i} {about} {disabled} {onchange} />
	</div>
{/each}
{#if !disabled}
	<Button
		quiet
		onclick={() =>
			onchange([
				...postings,
				{
					line: line.code,
					account: { code: accounts[0].code },
					department: { code: departments[0].code },
					where: {}
				}
			])}>Add a posting …</Button
	>
{/if}

<style>
	.posting {
		display: grid;
		grid-template-columns: 20px 1fr auto;
		gap: 4px 8px;
		align-items: start;
		margin-bottom: 10px;
	}
	.number {
		padding-top: 4px;
		color: var(--ink-2);
	}
	.to {
		grid-row: 2;
		grid-column: 2;
	}
	.parts {
		display: flex;
		flex-wrap: wrap;
		gap: 6px;
		align-items: center;
	}
</style>
