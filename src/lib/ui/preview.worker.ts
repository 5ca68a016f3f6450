/** Calculates what is typed and not saved yet, in a thread of the browser, on the same core as the server. */
import type { ModelFigures, ModelQuery } from '../core/plan/model-view';
import { packageFromJson } from '../core/plan/package';
import { Preview, type PreviewEdit } from '../core/plan/preview';

export type PreviewRequest =
	{ kind: 'load'; parcel: string } | { kind: 'figures'; id: number; edits: PreviewEdit[]; query: ModelQuery };
export type PreviewAnswer = { id: number; figures: ModelFigures } | { id: number; failed: string };

let preview: Preview | null = null;

self.onmessage = ({ data }: MessageEvent<PreviewRequest>) => {
	if (data.kind === 'load') {
		preview = new Preview(packageFromJson(data.parcel));
		return;
	}
	try {
		if (preview) self.postMessage({ id: data.id, figures: preview.figures(data.edits, data.query) });
	} catch (e) {
		self.postMessage({ id: data.id, failed: e instanceof Error ? e.message : String(e) });
	}
};
