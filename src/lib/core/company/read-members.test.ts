/** Members from a list: what is changed, what is added, and what cannot be taken. */
import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readMembers } from './read-members';
import type { Member } from './schema';

const member = (code: string, name: string, parent: string | null = null, attributes = {}): Member => ({
	code,
	name,
	parent,
	retired: false,
	attributes
});
const PRESENT = [
	member('boats', 'Boats', null, { range: 'core' }),
	member('kayak', 'Kayak', 'boats', { size: '10' }),
	member('other', 'Other')
];
const read = (...lines: string[]) =>
	readMembers(
		lines.map((l) => l.split(';')),
		lines.map((_, i) => i + 1),
		PRESENT
	);
const faultsOf = (...lines: string[]) =>
	read(...lines).faults.map((f) => `${f.row} ${f.column ?? ''}: ${f.message}`);

describe('a list of members', () => {
	it('changes those whose code or name is there, and adds the others', () => {
		const { members, changes, faults } = read(
			'Code;Name;Parent;size;range',
			'kayak;Kayak 10;;12;',
			';Canoe;Boats;14;',
			'raft-1;Raft;canoe;;'
		);
		expect(faults).toEqual([]);
		expect(changes).toEqual([
			{ before: PRESENT[1], after: member('kayak', 'Kayak 10', 'boats', { size: '12' }) },
			{ before: null, after: member('canoe', 'Canoe', 'boats', { size: '14' }) },
			{ before: null, after: member('raft-1', 'Raft', 'canoe') }
		]);
		expect(members.map((m) => m.code)).toEqual(['boats', 'kayak', 'other', 'canoe', 'raft-1']);
	});
	it('leaves what is empty in it as it is, and what it does not name', () => {
		const { members, changes } = read('name;parent;size', 'Kayak;;', 'Other;boats;');
		expect(changes.map((c) => c.after)).toEqual([member('other', 'Other', 'boats')]);
		expect(members[1]).toEqual(PRESENT[1]);
	});
	it('may name parents that stand further down, by names that it gives', () => {
		const { changes, faults } = read('name;parent', 'Sea kayak;Narrow boats', 'Narrow boats;Boats');
		expect(faults).toEqual([]);
		expect(changes.map((c) => [c.after.code, c.after.parent])).toEqual([
			['sea-kayak', 'narrow-boats'],
			['narrow-boats', 'boats']
		]);
	});
	it('retires some, and brings others back', () => {
		const gone = { ...PRESENT[2], retired: true };
		const { changes, faults } = readMembers(
			[
				['code', 'retired'],
				['kayak', 'Yes'],
				['other', 'no'],
				['boats', '']
			],
			[1, 2, 3, 4],
			[PRESENT[0], PRESENT[1], gone]
		);
		expect(faults).toEqual([]);
		expect(changes.map((c) => [c.after.code, c.after.retired])).toEqual([
			['kayak', true],
			['other', false]
		]);
		expect(faultsOf('code;retired', 'kayak;perhaps')).toEqual(['2 retired: “perhaps” is neither yes nor no']);
	});
	it('says what cannot be taken, at its row and column', () => {
		expect(faultsOf('size;range', '1;2')).toEqual([
			expect.stringMatching(/^1 : the first line has to be headings/)
		]);
		expect(
			faultsOf(
				'code;name;parent;two words',
				';;;',
				'a b;Raft;;',
				'kayak;Other;;',
				'new;New;nowhere;',
				'new;New;;',
				'x;X\u202e;;'
			)
		).toEqual([
			'1 two words: is no name of an attribute: letters, digits and underscore, a letter first',
			'2 name: a new member needs a name',
			'3 code: “a b” is no code of letters, digits, dot, dash and underscore',
			'4 name: “Other” is the name of other already',
			'5 parent: there is no member “nowhere”',
			'6 : “New” stands in row 5 already',
			expect.stringMatching(/^7 name: .*U\+202E/)
		]);
	});
	it('that was taken once changes nothing when it is taken again', () => {
		const name = fc.stringMatching(/^[A-Z][a-z]{1,6}$/);
		fc.assert(
			fc.property(fc.uniqueArray(name, { minLength: 1, maxLength: 12 }), (names) => {
				const lines = ['name;parent;size', ...names.map((n, i) => `${n};${i ? names[i - 1] : ''};${i}`)];
				const records = lines.map((l) => l.split(';'));
				const rows = lines.map((_, i) => i + 1);
				const once = readMembers(records, rows, PRESENT);
				expect(once.faults).toEqual([]);
				expect(readMembers(records, rows, once.members).changes).toEqual([]);
			})
		);
	});
});
