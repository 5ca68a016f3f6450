/** Raw cells of a driver model, as the API gives them. */
import type { Span } from '../../src/lib/core/calendar/spans';
import type { ModelFigures } from '../../src/lib/core/views/model-view';
import type { Client } from './app';

/**
 * Cells of a line, row by row: what is typed there, under adjustments, month by month; blank counts as 0.
 * @param where members to which rows are limited, as in an address: `product:kayaks,channel:dealer`
 */
export async function modelCells(
	client: Client,
	query: { model: string; scenario: string; from: string; to: string; line: string; where?: string }
): Promise<Map<string, number[]>> {
	const { model, line, where = '', ...window } = query;
	const address = new URLSearchParams({ ...window, lines: line, open: line, where });
	const { rows, spans } = (await client.get(`models/${model}?${address}`)) as ModelFigures & {
		spans: Span[];
	};
	const months = spans.filter((s) => s.from === s.to).length;
	return new Map(
		rows
			.filter((r) => r.heads === null || r.targets[0]!.row === '')
			.map((r) => [
				r.targets[0]!.row!,
				(r.typed ?? r.cells).slice(0, months).map((c) => (c as number | null) ?? 0)
			])
	);
}
export const sum = (list: Iterable<number>): number => [...list].reduce((a, b) => a + b, 0);
