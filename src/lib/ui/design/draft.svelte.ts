/** The form of a model or a schedule that is being changed: what it began with, saving it, and taking it out. */
import { untrack } from 'svelte';
import { ApiError, post } from '../kit/api';
import { notices } from '../kit/notices.svelte';
import { reread } from '../kit/reread';
import { typedIn, type Decision, type Typed } from './typed-under';

/** What a change would leave without a place. */
export interface Displaced {
	scenario: string;
	label: string;
	cells: number;
}

/** What a page says of itself. */
export interface DraftSource<D> {
	/** As it is saved; new with each load. */
	readonly loaded: { readonly definition: D; readonly version: string };
	/** Where it is sent to. */
	readonly path: string;
	readonly scenario: string;
	readonly scenarioName: string;
	/** What it is: “model”. */
	readonly what: string;
	/** More that is sent with it. */
	more?(): object;
	/** Told when another form stands in the place of the draft. */
	onother?(): void;
	/** It is no longer in the scenario. */
	onremoved(): Promise<void>;
}

export class Draft<D extends { code: string; name: string }> {
	readonly #source: DraftSource<D>;
	#begun: { definition: D; version: string };
	definition: D = $state.raw(undefined as unknown as D);
	/** Other scenarios in which it is saved too. */
	also: string[] = $state([]);
	busy = $state(false);
	problem = $state('');
	/** What would go, once it is said. */
	displaced: Displaced[] | null = $state.raw(null);
	/** What is typed where it would be posted, once it is said. */
	typed: Typed[] | null = $state.raw(null);
	#dropping = false;
	removing = $state(false);
	/** Raised with each load. */
	version = 0;
	readonly changed = $derived.by(
		() => JSON.stringify(this.definition) !== JSON.stringify(this.#source.loaded.definition)
	);

	constructor(source: DraftSource<D>) {
		this.#source = source;
		this.#begun = source.loaded;
		this.definition = source.loaded.definition;
		$effect(() => {
			void source.loaded;
			untrack(() => this.#follow());
		});
	}

	/** Somebody may have saved another form meanwhile: it stands here, unless something is changed. */
	#follow(): void {
		const now = this.#source.loaded;
		this.version++;
		const same = now.definition.code === this.#begun.definition.code;
		if (same && now.version === this.#begun.version) return;
		const text = JSON.stringify(this.definition);
		const kept = text !== JSON.stringify(this.#begun.definition) && text !== JSON.stringify(now.definition);
		if (kept && !this.busy && same) {
			this.problem = `Somebody else has changed this ${this.#source.what} meanwhile. What you changed is still here; it cannot be saved over theirs. Note it, discard, and make it anew.`;
			return;
		}
		this.#take(now);
	}
	#take(now: { definition: D; version: string }): void {
		this.#begun = now;
		this.definition = now.definition;
		this.#source.onother?.();
	}
	/** What becomes of what is typed there, and all else as it was tried. */
	decide(decision: Decision): Promise<void> {
		return this.save(this.definition, this.#dropping, decision);
	}
	discard(): void {
		this.problem = '';
		this.#take(this.#source.loaded);
	}

	/** @param definition null takes it out of the scenario @param drop takes out what has no place any more */
	async save(definition: D | null, drop = false, typed?: Decision): Promise<void> {
		const source = this.#source;
		this.busy = true;
		this.problem = '';
		try {
			await post(source.path, {
				scenarios: [source.scenario, ...(definition ? this.also : [])],
				version: this.#begun.version,
				definition,
				drop,
				...(typed ? { typed } : {}),
				...(definition ? source.more?.() : {})
			});
			this.displaced = null;
			this.typed = null;
			const { name } = this.#begun.definition;
			if (definition) {
				await reread();
				const more = this.also.length ? ` and ${this.also.length} more` : '';
				notices.say(
					`${definition.name} is saved in ${source.scenarioName}${more}. History can take it back.`
				);
			} else {
				this.definition = source.loaded.definition;
				await source.onremoved();
				notices.say(`${name} is no longer in ${source.scenarioName}. History can bring it back.`);
			}
		} catch (e) {
			const under = e instanceof ApiError ? typedIn(e.data) : null;
			if (under) {
				this.typed = under;
				this.displaced = null;
				this.#dropping = drop;
			} else if (e instanceof ApiError && Array.isArray(e.data)) this.displaced = e.data as Displaced[];
			else {
				this.removing = false;
				this.problem =
					e instanceof ApiError
						? [e.message, ...e.faults.map((f) => `${f.column ? `${f.column}: ` : ''}${f.message}.`)].join(' ')
						: 'It was not saved.';
			}
		} finally {
			this.busy = false;
		}
	}
}
