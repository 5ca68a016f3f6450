/** What counts as telling what single people earn, and a schedule without it. */
import { describe, expect, it } from 'vitest';
import { scheduleFaults } from './check-definition';
import { markedAs, personalIn, withoutPersonal } from './personal';
import { ScheduleDefinition } from './schema';
import { SCHEDULE_TEMPLATES } from './templates';

const template = (code: string) => SCHEDULE_TEMPLATES.find((t) => t.code === code)!;
const PEOPLE = ScheduleDefinition.parse({
	...template('people').form,
	code: 'staff',
	name: 'Staff',
	postings: [
		{ line: 'pay', account: { code: 'pay' } },
		{ line: 'fte', account: { code: 'fte' } }
	]
});
const TRAINING = ScheduleDefinition.parse({
	code: 'training',
	name: 'Training',
	named: 'what',
	columns: [
		{ code: 'what', label: 'What', kind: 'text' },
		{ code: 'who', label: 'Who', kind: 'row', schedule: 'staff' },
		{ code: 'hours', label: 'Hours', kind: 'number' }
	],
	lines: [
		{ code: 'lost', label: 'Pay for the time', formula: 'staff.pay * hours / 160' },
		{ code: 'twice', label: 'Twice that', formula: '2 * lost' },
		{ code: 'present', label: 'Present', formula: 'hours * staff.fte' }
	]
});
const list = (names: ReadonlySet<string> | undefined) => [...(names ?? [])].sort();

describe('what tells individual pay', () => {
	it('is what is marked, and all that is made of it, in other schedules too', () => {
		const found = personalIn([TRAINING, PEOPLE]);
		expect(list(found.get('staff'))).toEqual(
			'annual benefit benefits bonus bonus_owed bonus_paid bonus_pay commission commission_rate hourly pay raise raises tax'.split(
				' '
			)
		);
		expect(list(found.get('training'))).toEqual(['lost', 'twice']);
		expect(personalIn([{ ...TRAINING, lines: [] }]).size).toBe(0);
	});
	it('is left out of a schedule with its values, postings and limits; all else stays', () => {
		const limited = {
			...PEOPLE,
			columns: PEOPLE.columns.map((c) => (c.code === 'tax_cap' ? { ...c, most: 'annual' } : c))
		};
		const rows = [{ id: 'a', values: { name: 'Ann', annual: 84000, start: '2027-02-15', bonus: 0.1 } }];
		const { definition, rows: left } = withoutPersonal({ definition: limited, rows }, personalIn([limited]));
		expect(left).toEqual([{ id: 'a', values: { name: 'Ann', start: '2027-02-15' } }]);
		expect(definition.lines.map((l) => l.code)).toEqual([
			'paid_hours',
			'leave_taken',
			'fte',
			'headcount',
			'joiners',
			'leavers',
			'leave'
		]);
		expect(definition.postings.map((p) => p.line)).toEqual(['fte']);
		expect(definition.columns.find((c) => c.code === 'tax_cap')!.most).toBeUndefined();
		expect(definition.columns.find((c) => c.code === 'end')!.least).toBe('start');
		expect(JSON.stringify(definition)).not.toContain('annual');
	});
	it('stays so in an earlier form of the schedule, and what is gone today counts as personal', () => {
		const before = {
			...PEOPLE,
			columns: [
				...PEOPLE.columns.map((c) => ({ ...c, personal: undefined })),
				{ ...PEOPLE.columns[5], code: 'weekly', personal: undefined }
			],
			lines: PEOPLE.lines.map((l) => ({ ...l, personal: undefined }))
		};
		const marked = personalIn([markedAs(before, PEOPLE)]).get('staff')!;
		expect([...personalIn([PEOPLE]).get('staff')!].every((code) => marked.has(code))).toBe(true);
		expect(marked.has('weekly')).toBe(true);
		expect(marked.has('department')).toBe(false);
	});
	it('cannot be by what rows are called or placed', () => {
		const wrong = {
			...PEOPLE,
			columns: PEOPLE.columns.map((c) =>
				c.code === 'name' || c.code === 'department' ? { ...c, personal: true as const } : c
			)
		};
		const none = { get: () => undefined, isLeaf: () => false, all: [], roots: [] };
		const faults = scheduleFaults(wrong, [], {
			dimensions: [],
			scenarios: new Set<string>(),
			accounts: none,
			departments: none,
			money: new Map()
		} as never);
		expect(faults.filter((f) => f.column.endsWith('.personal')).map((f) => f.column)).toEqual([
			'columns.name.personal',
			'columns.department.personal'
		]);
	});
});
