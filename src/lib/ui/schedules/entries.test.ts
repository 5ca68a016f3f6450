/** What is typed into columns of a list, read as it is shown. */
import { describe, expect, it } from 'vitest';
import { ScheduleColumn } from '../../core/blocks/schedule/schema';
import { picked, type Choice } from '../grid/word-entries';
import { entryOf, severalOf } from './entries';

const column = (kind: ScheduleColumn['kind']) => ScheduleColumn.parse({ code: 'c', label: 'C', kind });
const HALLS: Choice[] = [
	{ code: 'hull', name: 'Hull Shop' },
	{ code: 'club', name: 'Harbour Club' },
	{ code: 'yard', name: 'Harbour Yard' }
];
const reads = (kind: ScheduleColumn['kind'], text: string, choices?: Choice[]) => {
	const read = entryOf(column(kind), choices)!.read(text);
	return 'value' in read ? read.value : read.reason;
};

describe('a cell of a list', () => {
	it('takes days, yes or no and words as people write them', () => {
		expect([reads('date', '15.2.2027'), reads('date', ' ')]).toEqual(['2027-02-15', null]);
		expect(reads('date', '31.02.2027')).toMatch(/is no date\. Type one such as 15 Feb 2027/);
		expect([reads('yes-no', 'Y'), reads('yes-no', 'no'), reads('yes-no', '')]).toEqual([true, false, null]);
		expect(reads('yes-no', 'perhaps')).toBe('“perhaps” is neither yes nor no.');
		expect(reads('text', '  Ann Lee ')).toBe('Ann Lee');
	});
	it('takes one of a list by its name, its code, or a beginning that fits one alone', () => {
		const of = (text: string) => reads('department', text, HALLS);
		expect([of('hull shop'), of('CLUB'), of('hul'), of('')]).toEqual(['hull', 'club', 'hull', null]);
		expect(of('harbour')).toBe('“harbour” fits 2 of them: type more of it.');
		expect(of('office')).toBe('“office” is none of Hull Shop, Harbour Club, Harbour Yard.');
		expect(reads('pick', 'x', [])).toMatch(/there are none/);
	});
	it('offers what stands where nothing is chosen, and reads it as that', () => {
		const entry = picked(HALLS, 'as its heading');
		expect(entry.shown(null)).toBe('as its heading');
		expect(entry.choices).toEqual(['as its heading', 'Hull Shop', 'Harbour Club', 'Harbour Yard']);
		expect(['As its heading', ' ', 'club'].map((text) => entry.read(text))).toEqual([
			{ value: null },
			{ value: null },
			{ value: 'club' }
		]);
	});
	it('takes several of a list, each once', () => {
		const entry = severalOf(HALLS);
		expect(entry.read('Hull Shop; club;hull')).toEqual({ value: 'hull;club' });
		expect(entry.read(' ; ')).toEqual({ value: null });
		expect(entry.read('hull; attic')).toHaveProperty('reason');
		expect(entry.shown('hull;club')).toBe('Hull Shop; Harbour Club');
	});
	it('is read as it is shown', () => {
		for (const [kind, value] of [
			['date', '2027-02-15'],
			['yes-no', false],
			['text', 'Ann'],
			['department', 'yard']
		] as const) {
			const entry = entryOf(column(kind), HALLS)!;
			expect(entry.read(entry.shown(value))).toEqual({ value });
			expect(entry.read(entry.typed(value))).toEqual({ value });
		}
		expect(entryOf(column('money'))).toBeNull();
	});
});
