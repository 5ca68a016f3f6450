import { api, takes } from '$lib/server/doors/http';
import { addDepartments, NewDepartments, readDepartmentsOf } from '$lib/server/setup/departments';

export const GET = api(({ context }) => readDepartmentsOf(context));

/** Adds departments under another, or shows what would be added. */
export const POST = takes(
	{ may: 'change departments', body: NewDepartments, size: 512 * 1024 },
	({ context, input }) => addDepartments(context, input)
);
