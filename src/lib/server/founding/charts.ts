/** Ready-made starting charts: the files in `templates/charts`, in the form of a company folder's accounts. */
import type { Account } from '../../core/company/schema';
import { readChart } from '../company/subjects/accounts';

export interface Chart {
	code: string;
	name: string;
	/** For whom it is. */
	says: string;
	accounts: Account[];
}

const files = import.meta.glob<string>('/templates/charts/*.csv', {
	query: '?raw',
	import: 'default',
	eager: true
});
const chart = (code: string, name: string, says: string): Chart => ({
	code,
	name,
	says,
	accounts: readChart(files[`/templates/charts/${code}.csv`])
});

export const CHARTS: readonly Chart[] = [
	chart(
		'trade',
		'Trade and production',
		'Who makes or buys goods and sells them: materials, stock, freight.'
	),
	chart('services', 'Services', 'Who sells hours and projects: fees, pay of those who bill, unbilled work.'),
	chart('membership', 'Membership', 'Clubs and associations: fees, courses, members who join and leave.'),
	chart('non-profit', 'Non-profit', 'Charities and foundations: giving, grants, programmes, funds.')
];
