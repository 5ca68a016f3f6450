/** Opening a figure through the API, where its periods are in writing. */
import { namedBy, readFigure, writeRef, type WrittenFigure } from '../../core/explain/written';
import type { FigureView } from '../../core/explain/figure';
import type { FigureRef } from '../../core/explain/trace';
import { post } from '../kit/api';
import type { CompanyContext } from '../shell/company';

/** In whose periods a figure is named. */
export const calendarFor = ({ calendarOf }: CompanyContext, ref: FigureRef, scenario?: string) =>
	calendarOf(namedBy(ref), scenario);

/** What a figure is made of. @throws ApiError */
export async function openedFigure(
	{ calendarOf }: CompanyContext,
	scenario: string,
	ref: FigureRef
): Promise<FigureView> {
	const calendarIn = (block: string) => calendarOf(block, scenario);
	const view = await post<WrittenFigure>('trace', { scenario, ref: writeRef(ref, calendarIn) });
	return readFigure(view, calendarIn);
}
