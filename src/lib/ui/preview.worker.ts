/** Calculates what is typed and not saved yet, in a thread of the browser, on the same core as the server. */
import type { ModelFigures, ModelQuery } from '../core/plan/model-view';
import { packageFromJson } from '../core/plan/package';
import { Preview, type PreviewChanges, type PreviewEdit } from '../core/plan/preview';

export type PreviewRequest =
	{ kind: 'load'; parcel: string } | { kind: 'figures'; id: number; edits: PreviewEdit[]; query: ModelQuery };
export type PreviewAnswer = { id: number; changes: PreviewChanges } | { id: number; failed: string };

let preview: Preview | null = null;
/** What is saved, as the last query shows it. */
let saved: { query: string; figures: ModelFigures } | null = null;

self.onmessage = ({ data }: MessageEvent<PreviewRequest>) => {
	if (data.kind === 'load') {
		preview = new Preview(packageFromJson(data.parcel));
		saved = null;
		return;
	}
	try {
		if (!preview) return;
		const query = JSON.stringify(data.query);
		if (saved?.query !== query) saved = { query, figures: preview.figures([], data.query) };
		self.postMessage({ id: data.id, changes: preview.changes(data.edits, data.query, saved.figures) });
	} catch (e) {
		self.postMessage({ id: data.id, failed: e instanceof Error ? e.message : String(e) });
	}
};
