/** Figures as they would be with what is typed and not saved yet, worked out in a thread of the browser. */
import type { Calendar } from '../../core/calendar/calendar';
import type { TypedCell } from '../../core/inputs/cell';
import type { ModelChanges } from '../../core/views/model-changes';
import type { ModelQuery } from '../../core/views/model-view';
import { post } from '../kit/api';
import { STAYS, whenIdle } from '../kit/idle';
import { Newest } from '../kit/newest';
import { previewThread } from './preview-thread';

/** What is looked at. */
export interface PreviewOf {
	/** Its code. */
	scenario: string;
	/** Changes whenever the saved figures may have changed. */
	version: unknown;
	/** Its last span is the whole window. */
	query: ModelQuery;
	/** The model's. */
	calendar: Calendar;
}

export class LivePreview {
	/** Rows that differ by what is typed; null while nothing is typed, or until the first answer. */
	changes: ModelChanges | null = $state.raw(null);

	readonly #thread = previewThread();
	readonly #newest = new Newest();
	#wanted = 0;
	/** What the thread is being made ready for. */
	#warming: string | null = null;
	/** Calls off what was to begin once the page is idle. */
	#callOff = () => {};

	/** Asks for the figures with these cells typed. */
	show(of: PreviewOf, edits: TypedCell[]): void {
		const wanted = ++this.#wanted;
		if (!edits.length) {
			this.#newest.drop();
			this.changes = null;
			return;
		}
		this.#newest.run(async () => {
			try {
				const changes = await this.#ask(of, edits);
				if (wanted === this.#wanted) this.changes = changes;
			} catch {
				// Without a preview the saved figures stand; saving calculates anew.
				this.close();
				this.changes = null;
			}
		});
	}

	/** Makes the thread ready once whoever may type has stayed a moment: until then the server answers. */
	warm(of: PreviewOf): void {
		this.#callOff();
		this.#callOff = whenIdle(() => this.#warm(of), STAYS);
	}
	#warm({ scenario, version, query }: PreviewOf): void {
		const what = { scenario, model: query.model };
		const warming = JSON.stringify([what, version]);
		if (this.#warming === warming || this.#thread.isReadyFor(what, version)) return;
		this.#warming = warming;
		this.#thread
			.ask(what, version, (work) => work.changes([], query))
			// What failed for another is of no interest; what failed for this is tried anew when it is needed.
			.catch(() => this.#warming === warming && this.close())
			.finally(() => {
				if (this.#warming === warming) this.#warming = null;
			});
	}

	/** The thread answers once it has the model; until then the server does, which keeps it calculated. */
	async #ask(of: PreviewOf, edits: TypedCell[]): Promise<ModelChanges> {
		const { scenario, version, query } = of;
		const what = { scenario, model: query.model };
		if (!this.#thread.isReadyFor(what, version)) {
			const changes = await answeredByServer(of, edits);
			// Only now: the scenario would have to be sent before the answer.
			this.#warm(of);
			if (changes) return changes;
		}
		return this.#thread.ask(what, version, (work) => work.changes(edits, query));
	}

	/** Ends the thread. */
	close(): void {
		this.#callOff();
		this.#thread.close();
	}
}

/** Null where the server does not try it, or cannot be reached. */
async function answeredByServer(
	{ scenario, query, calendar }: PreviewOf,
	edits: TypedCell[]
): Promise<ModelChanges | null> {
	const { model, spans, hideEmpty, ...arrangement } = query;
	const window = spans[spans.length - 1];
	try {
		const { changes } = await post<{ changes: ModelChanges | null }>(
			`models/${encodeURIComponent(model)}/preview`,
			{
				...arrangement,
				scenario,
				from: calendar.key(window.from),
				to: calendar.key(window.to),
				periods: 'model',
				empty: hideEmpty ? 'hide' : 'show',
				edits: edits.map(({ line, row, period, value }) => ({
					line,
					row,
					period: calendar.key(period),
					value
				}))
			}
		);
		return changes;
	} catch {
		return null;
	}
}
