/** Calculates rows of a schedule that are changed and not saved, in a thread of the browser. */
import { expose } from 'comlink';
import { packageFromBytes } from '../../core/scenario/package';
import { designedSchedule } from '../../core/views/schedule-design';
import type { ScheduleDefinition } from '../../core/blocks/schedule/schema';
import type { ScheduleChanges, ScheduleEdits } from '../../core/views/schedule-changes';
import { PartTooSmall, SchedulePreview } from '../../core/views/schedule-preview';
import type { ScheduleFigures, ScheduleQuery } from '../../core/views/schedule-view';

let parcel = new ArrayBuffer(0);
let preview: SchedulePreview | null = null;
/** What is saved, as the last query shows it. */
let saved: { query: string; figures: ScheduleFigures } | null = null;

const work = {
	load(bytes: ArrayBuffer): void {
		parcel = bytes;
		preview = null;
		saved = null;
	},
	/**
	 * What differs from the saved figures; null where more of the scenario is needed to say so.
	 * @throws ModelError for what cannot be calculated
	 */
	changes(edits: ScheduleEdits, query: ScheduleQuery): ScheduleChanges | null {
		preview ??= new SchedulePreview(packageFromBytes(parcel), query.schedule);
		const text = JSON.stringify(query);
		if (saved?.query !== text)
			saved = { query: text, figures: preview.figures({ rows: [], months: [] }, query) };
		try {
			return preview.changes(edits, query, saved.figures);
		} catch (e) {
			if (e instanceof PartTooSmall) return null;
			throw e;
		}
	},
	/** A schedule’s figures in a form that is not saved yet. @throws ModelError for one that cannot be calculated */
	designed: (
		definition: ScheduleDefinition,
		renamed: Record<string, string>,
		query: ScheduleQuery
	): ScheduleFigures => designedSchedule(packageFromBytes(parcel), definition, renamed, query)
};
export type SchedulePreviewWork = typeof work;
expose(work);
