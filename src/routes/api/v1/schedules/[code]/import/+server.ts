import { takes } from '$lib/server/doors/http';
import { importRows, LIST_SIZE, RowList } from '$lib/server/schedules/import';

export const POST = takes(
	{ may: 'change schedules', body: RowList, size: LIST_SIZE },
	({ context, event, input }) => importRows(context, event.params.code!, input)
);
