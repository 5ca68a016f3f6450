/** Rows of a plan that are read when they are opened. */
import type { PlanRow } from '../../core/views/plan-rows';
import { ApiError, get } from '../kit/api';
import { notices } from '../kit/notices.svelte';
import { partKey } from './rows';

export interface Right {
	editable: boolean;
	reason: string;
}
interface Answer {
	rows: PlanRow[];
	/** Of departments under one, or of the one that was read. */
	rights?: Record<string, Right>;
	right?: Right;
	drivers?: Driver[];
}
/** A line of a driver model that bases name (`model.line`). */
interface Driver {
	code: string;
	name: string;
}

export class PlanParts {
	/** By account and department. */
	rows = $state.raw<ReadonlyMap<string, PlanRow>>(new Map());
	rights = $state.raw<ReadonlyMap<string, Right>>(new Map());
	drivers = $state.raw<readonly Driver[]>([]);
	#version: unknown;
	#about = '';
	readonly #asked = new Set<string>();

	/**
	 * Reads what is not read yet.
	 * @param version other than before when saved figures may have changed: all is read anew, and shown until then
	 * @param about what all paths have in common: scenario and months; under others nothing stays
	 */
	want(
		version: unknown,
		about: Record<string, string>,
		paths: { path: string; query: Record<string, string> }[]
	): void {
		if (this.#about !== JSON.stringify(about)) this.#clear(JSON.stringify(about));
		const whole = paths.map(({ path, query }) => `${path}?${new URLSearchParams({ ...about, ...query })}`);
		if (version !== this.#version) {
			this.#version = version;
			this.#asked.clear();
		}
		for (const path of whole) {
			if (this.#asked.has(path)) continue;
			this.#asked.add(path);
			get<Answer>(path).then(
				(answer) => {
					if (version === this.#version && this.#asked.has(path)) this.#take(answer);
				},
				(e: unknown) => {
					if (version !== this.#version) return;
					this.#asked.delete(path);
					notices.say(e instanceof ApiError ? e.message : 'These rows could not be read.', true);
				}
			);
		}
	}
	/** Figures of other months or of another scenario would stand under the wrong names. */
	#clear(about: string): void {
		this.#about = about;
		this.#asked.clear();
		this.#version = undefined;
		this.rows = new Map();
		this.rights = new Map();
	}
	#take({ rows, rights, right, drivers = [] }: Answer): void {
		this.rows = new Map([...this.rows, ...rows.map((r) => [partKey(r.account, r.department), r] as const)]);
		const told = right && rows[0] ? { [rows[0].department]: right } : (rights ?? {});
		this.rights = new Map([...this.rights, ...Object.entries(told)]);
		const known = new Set(this.drivers.map((d) => d.code));
		this.drivers = [...this.drivers, ...drivers.filter((d) => !known.has(d.code))];
	}
}
