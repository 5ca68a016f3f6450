<script lang="ts">
	import { goto } from '$app/navigation';
	import { useCompany, withSelection } from './company';
	import { useModules } from '../kit/modules';
	import Palette from '../kit/Palette.svelte';

	/** One box that leads anywhere: stages, departments, scenarios, accounts, driver models. */
	let { open = $bindable(false) }: { open: boolean } = $props();
	const company = useCompany();
	const isOn = useModules();

	interface Entry {
		kind: string;
		name: string;
		href: string;
	}
	const entries = $derived.by((): Entry[] => {
		const { data, calendar } = company;
		const to = (path: string, change = {}, more = {}) =>
			withSelection(path, data.selection, calendar, change, more);
		return [
			...data.stages.map((s) => ({ kind: 'Stage', name: s.name, href: to(s.href) })),
			...(data.may['run feeds'] ? [{ kind: 'Do', name: 'Load a ledger file', href: to('/setup/feed') }] : []),
			...(data.may['map ledger accounts']
				? [{ kind: 'Do', name: 'Map ledger accounts', href: to('/setup/map') }]
				: []),
			...(data.may['change accounts']
				? [{ kind: 'Do', name: 'Add or move accounts', href: to('/setup/accounts') }]
				: []),
			...(data.may['change departments']
				? [{ kind: 'Do', name: 'Add or move departments', href: to('/setup/departments') }]
				: []),
			...(data.may['set exchange rates'] && isOn('currencies')
				? [{ kind: 'Do', name: 'Set exchange rates', href: to('/setup/currencies') }]
				: []),
			...(data.may['manage people']
				? [{ kind: 'Do', name: 'Invite people', href: to('/setup/people') }]
				: []),
			...(data.may['close months']
				? [{ kind: 'Do', name: `Close a ${calendar.words.one}`, href: to('/forecast') }]
				: []),
			...data.models.map((m) => ({ kind: 'Driver model', name: m.name, href: to(`/drivers/${m.code}`) })),
			...(data.schedules.length || data.may['change driver models']
				? [{ kind: 'List', name: 'All schedules', href: to('/plan/schedules') }]
				: []),
			...data.schedules.map((s) => ({
				kind: 'Schedule',
				name: s.name,
				href: to(`/plan/schedules/${s.code}`)
			})),
			...data.departments.map((d) => ({
				kind: 'Plan of',
				name: d.name,
				href: to('/plan', { department: d.code })
			})),
			...data.scenarios.map((s) => ({
				kind: 'Scenario',
				name: s.name,
				href: to('/plan', { scenario: s.code })
			})),
			...data.accounts.map((a) => ({
				kind: `Account ${a.code}`,
				name: a.name,
				href: to('/plan', {}, { account: a.code })
			}))
		];
	});
	function find(text: string) {
		const words = text.toLowerCase().split(/\s+/).filter(Boolean);
		return entries
			.filter((e) => words.every((w) => `${e.kind} ${e.name}`.toLowerCase().includes(w)))
			.slice(0, 12);
	}
</script>

<Palette
	bind:open
	label="Go to or do"
	placeholder="A department, account, scenario, or something to do"
	{find}
	onfollow={(entry) => void goto(entry.href)}
/>
