/** A whole company as plain data: what a folder holds and a database stores. */
import { Role, type Shown } from '../platform/auth/roles';
import { ownValue } from '../../core/text';
import type {
	Account,
	Company,
	Department,
	Dimension,
	Entity,
	LedgerAccount
} from '../../core/company/schema';
import type { AdjustmentDefinition, CombinationRule, Profile } from '../../core/inputs/schema';
import type { ModelDefinition } from '../../core/blocks/driver-model/schema';
import type { Scenario } from '../../core/scenario/schema';
import type { Series } from '../../core/inputs/series';
import type { BasisEntry } from '../../core/inputs/basis';
import type { SubmissionState } from '../../core/rounds/submission';

export interface UserRecord {
	email: string;
	name: string;
	role: Role;
	/** Departments whose subtrees the role covers. */
	departments: string[];
}

/** One ledger entry: debit positive. */
export interface Entry {
	period: number;
	date: string;
	ledgerAccount: string;
	department: string;
	amount: number;
	document: string;
	party: string;
	description: string;
	/** Dimension → member. */
	tags: Record<string, string>;
}

export interface RoundRecord {
	code: string;
	name: string;
	scenario: string;
	due: string;
	instructions: string;
}
export interface SubmissionRecord {
	round: string;
	department: string;
	state: SubmissionState;
	due: string;
	/** Account → total over the scenario, when it was submitted. */
	figures: Record<string, number> | null;
}
export interface SubmissionEvent {
	round: string;
	department: string;
	at: string;
	user: string;
	action: string;
	comment: string;
}
export interface JournalRecord {
	at: string;
	user: string;
	kind: string;
	scenario: string;
	subject: string;
	before: string;
	after: string;
	why: string;
	/** Changes that were saved together share it; empty when that is not known. */
	batch: string;
}
export interface FeedRunRecord {
	at: string;
	user: string;
	file: string;
	period: number;
	entries: number;
	replaced: number;
	debits: number;
	unmapped: number;
}

/** A scenario with what says where it is kept and who sees it. */
export interface ListedScenario extends Scenario, Shown {
	/** Path in the list of scenarios, its parts joined by "/"; empty at the top. */
	folder: string;
	/** The scenario that holds its targets. */
	target: string | null;
}

export interface ScenarioRecord {
	scenario: ListedScenario;
	/** The scenario's own form of each model. */
	definitions: ModelDefinition[];
	series: Series[];
	bases: BasisEntry[];
	adjustments: AdjustmentDefinition[];
	notes: NoteRecord[];
	items: ItemRecord[];
	attachments: AttachmentRecord[];
}

/** A note on a cell, which the journal's kind of subject names. */
export interface NoteRecord {
	subject: string;
	at: string;
	user: string;
	text: string;
	/** Place in the scenario's list of the note that it answers. */
	answers: number | null;
}
/** One line of the calculation behind a cell. */
export interface ItemRecord {
	subject: string;
	description: string;
	quantity: number | null;
	rate: number | null;
	amount: number;
}
export interface AttachmentRecord {
	subject: string;
	at: string;
	user: string;
	name: string;
	content: Uint8Array;
}

export interface CompanyData {
	company: Company;
	closedThrough: number | null;
	accounts: Account[];
	ledgerAccounts: LedgerAccount[];
	entities: Entity[];
	departments: Department[];
	dimensions: Dimension[];
	/** Order of models, and the combinations of members that hold data. */
	models: { code: string; rows: string[][] }[];
	/** Which members may hold data together. */
	rules: CombinationRule[];
	/** Kept shapes of the year. */
	profiles: Profile[];
	scenarios: ScenarioRecord[];
	entries: Entry[];
	users: UserRecord[];
	rounds: RoundRecord[];
	submissions: SubmissionRecord[];
	events: SubmissionEvent[];
	journal: JournalRecord[];
	feedRuns: FeedRunRecord[];
}

/** Tags as stored: `product=kay-12;region=lakes`, in the order of the company's dimensions. */
export function tagsToText(tags: Record<string, string>, dimensions: readonly string[]): string {
	return dimensions
		.flatMap((d) => {
			const member = ownValue(tags, d);
			return member ? [`${d}=${member}`] : [];
		})
		.join(';');
}
export function tagsFromText(text: string): Record<string, string> {
	return text === '' ? {} : Object.fromEntries(text.split(';').map((t) => t.split('=') as [string, string]));
}
