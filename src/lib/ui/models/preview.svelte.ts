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
		this.#callOff = whenIdle(
			() => this.#thread.prepare(whatOf(of), of.version, (work) => work.changes([], of.query)),
			STAYS
		);
	}

	/** The thread answers once it has the model; until then the server does, which keeps it calculated. */
	#ask(of: PreviewOf, edits: TypedCell[]): Promise<ModelChanges> {
		return this.#thread.askOnceReady(
			whatOf(of),
			of.version,
			(work) => work.changes(edits, of.query),
			() => answeredByServer(of, edits)
		);
	}

	/** Ends the thread. */
	close(): void {
		this.#callOff();
		this.#thread.close();
	}
}

const whatOf = ({ scenario, query }: PreviewOf) => ({ scenario, model: query.model });

/** Null where the server does not try it. */
async function answeredByServer(
	{ scenario, query, calendar }: PreviewOf,
	edits: TypedCell[]
): Promise<ModelChanges | null> {
	const { model, spans, hideEmpty, ...arrangement } = query;
	const window = spans[spans.length - 1];
	const { changes } = await post<{ changes: ModelChanges | null }>(
		`models/${encodeURIComponent(model)}/preview`,
		{
			...arrangement,
			scenario,
			from: calendar.key(window.from),
			to: calendar.key(window.to),
			periods: 'model',
			empty: hideEmpty ? 'hide' : 'show',
			edits: edits.map(({ line, row, period, value }) => ({ line, row, period: calendar.key(period), value }))
		}
	);
	return changes;
}
