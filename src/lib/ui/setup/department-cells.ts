/** Departments as rows of a table: what of each can be typed, many at once. */
import type { Entity } from '../../core/company/schema';
import type { DepartmentRow } from '../../core/views/department-row';
import type { Entered, WordEntry } from '../grid/entered';
import type { GridCell, GridColumn } from '../grid/types';
import { picked, WORDS } from '../grid/word-entries';

export const DEPARTMENT_COLUMNS: readonly GridColumn[] = [
	{ key: 'name', label: 'Name', width: 260, kind: 'text', grows: true },
	{ key: 'entity', label: 'Legal entity', width: 200, kind: 'text' },
	{ key: 'plans', label: 'Plans it', width: 200, kind: 'text' },
	{ key: 'reviews', label: 'Reviews it', width: 160, kind: 'text' }
];

/** @param entities those a department can belong to */
export function departmentCells(entities: readonly Entity[]) {
	const entries: Readonly<Record<string, WordEntry>> = { name: WORDS, entity: picked(entities) };
	return {
		cell(department: DepartmentRow, key: string): GridCell {
			if (key === 'name' || key === 'entity')
				return { value: null, typed: department[key], entry: entries[key], editable: true };
			return {
				value: null,
				text: (key === 'plans' ? department.plans : department.reviews).join(', '),
				reason: 'Who plans and reviews it is said under People.'
			};
		},
		/** What stands in a cell, in words. */
		words: (key: string, value: Entered): string => entries[key]?.shown(value) ?? String(value ?? '')
	};
}
