import { CELLS_SIZE } from '$lib/server/platform/schemas';
import { api, takes } from '$lib/server/doors/http';
import {
	addDepartments,
	DepartmentCells,
	NewDepartments,
	readDepartmentsOf,
	saveDepartmentCells
} from '$lib/server/setup/departments';

export const GET = api(({ context }) => readDepartmentsOf(context));

/** Adds departments under another, or shows what would be added. */
export const POST = takes(
	{ may: 'change departments', body: NewDepartments, size: 512 * 1024 },
	({ context, input }) => addDepartments(context, input)
);

/** Changes cells of many departments, or says what of their figures would count elsewise. */
export const PATCH = takes(
	{ may: 'change departments', body: DepartmentCells, size: CELLS_SIZE },
	({ context, input }) => saveDepartmentCells(context, input)
);
