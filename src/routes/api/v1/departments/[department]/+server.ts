import { api, takes } from '$lib/server/doors/http';
import { changeDepartment, DepartmentChange, removeDepartment } from '$lib/server/setup/departments';

/** Changes a department, or shows what of its figures that would move, and who would see them. */
export const PATCH = takes(
	{ may: 'change departments', body: DepartmentChange },
	({ context, event, input }) => changeDepartment(context, event.params.department!, input)
);

export const DELETE = api(({ context, event }) => removeDepartment(context, event.params.department!));
