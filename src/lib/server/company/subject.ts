/** What a company keeps, one subject at a time: each says in one place how it is filed, stored and copied. */
import type { Knex } from 'knex';
import type { Scenario } from '../../core/scenario/schema';
import type { FileForm } from './form';
import type { Holding, Kept } from './holding';
import type { Reading } from './reading';
import type { Writing } from './writing';

/** A subject of the company, which holds a T. */
export interface Subject<N extends string, T> extends Kept<T> {
	readonly name: N;
	readonly files: readonly FileForm[];
	/** From the files of a folder; what is wrong with them is told to the reading. */
	read(folder: Reading): T;
	write(held: T, folder: Writing): void;
	/** Into an empty database. */
	store(trx: Knex.Transaction, held: T, company: Holding): Promise<void>;
	load(db: Knex): Promise<T>;
}

/** A scenario's folder, and what it consists of: when it is read, as far as it has been. */
export interface ScenarioFolder {
	folder: string;
	scenario: Pick<Scenario, 'code' | 'last' | 'laterYears'>;
	/** @throws Error for a part that comes later in the list, while it is read */
	of<T>(part: Kept<T>): T;
}

/** What is known of a scenario that is read. */
export interface ScenarioPlace extends ScenarioFolder {
	/** Row of scenarios.csv. */
	row: number;
	/** Models that it does not have. */
	without: readonly string[];
	/** Codes of all scenarios. */
	scenarios: readonly string[];
}

/** A part of a scenario, which holds a T: it is copied with the scenario and goes when that goes. */
export interface ScenarioPart<N extends string, T> extends Kept<T> {
	readonly name: N;
	readonly files: readonly FileForm[];
	/**
	 * When a copy takes it along: always, only where figures are copied as they stand, or when what people said of
	 * the figures is asked for.
	 */
	readonly travels: 'always' | 'with figures' | 'with notes';
	read(folder: Reading, at: ScenarioPlace): T;
	write(held: T, at: ScenarioFolder, folder: Writing): void;
	store(trx: Knex.Transaction, scenario: string, held: T): Promise<void>;
	load(db: Knex, scenario: string): Promise<T>;
	/** From one scenario to another, inside the database. */
	copy(trx: Knex.Transaction, from: string, to: string): Promise<void>;
}
