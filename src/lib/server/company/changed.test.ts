import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { changedIn, changedText, type Changed } from './changed';

const code = fc.stringMatching(/^[a-z0-9][a-z0-9_-]{0,12}$/);
const cell = fc.record({
	block: code,
	line: code,
	row: fc.oneof(
		fc.constant(''),
		code,
		fc.tuple(code, code).map((c) => c.join('|'))
	),
	period: fc.constantFrom('2026-10', '2027-P03', '2027-W14', '2029-H1')
});

describe('what an entry is about', () => {
	it('stands in the journal as one text', () => {
		const texts: [Changed, string][] = [
			[
				{ what: 'cell', block: 'accounts', line: '6240', row: 'sales', period: '2026-10' },
				'accounts/6240/sales/2026-10'
			],
			[{ what: 'cell', block: 'rates', line: 'index', row: '', period: '2026-10' }, 'rates/index//2026-10'],
			[
				{ what: 'note', block: 'accounts', line: '6240', row: 'sales', period: '2026-10' },
				'note/accounts/6240/sales/2026-10'
			],
			[{ what: 'basis', account: '6240', department: 'sales' }, 'basis/6240/sales'],
			[{ what: 'formula', model: 'boats', line: 'price' }, 'formula/boats/price'],
			[{ what: 'member', dimension: 'product', member: 'tern' }, 'member/product/tern'],
			[{ what: 'member', dimension: 'product', member: '' }, 'member/product'],
			[{ what: 'row', schedule: 'staff', id: 'P 17' }, 'row/staff/P 17'],
			[{ what: 'column', schedule: 'staff', column: 'start', row: 'P 17' }, 'staff/start/P 17/'],
			[{ what: 'close', period: '2026-10' }, 'close/2026-10'],
			[{ what: 'scenario', field: 'last' }, 'last']
		];
		for (const [about, text] of texts) {
			expect(changedText(about)).toBe(text);
			expect(changedIn(text)).toEqual(about);
		}
	});
	it('is read as what was written, whatever the codes: a block may be called as a word is', () => {
		const any = fc.oneof(
			cell.map((c) => ({ what: 'cell' as const, ...c })),
			cell.map((c) => ({ what: 'cell' as const, ...c, block: 'basis' })),
			fc.tuple(fc.constantFrom('note', 'items', 'attachment'), cell).map(([what, c]) => ({ what, ...c })),
			fc.record({ what: fc.constant('basis'), account: code, department: code }),
			fc.record({ what: fc.constantFrom('adjustment', 'profile', 'rule'), code }),
			fc.record({ what: fc.constant('formula'), model: code, line: code }),
			fc.record({ what: fc.constantFrom('model', 'rows'), model: code }),
			fc.record({ what: fc.constant('column'), schedule: code, column: code, row: code }),
			fc.record({ what: fc.constant('row'), schedule: code, id: code }),
			fc.record({ what: fc.constant('map'), ledgerAccount: code })
		) as fc.Arbitrary<Changed>;
		fc.assert(
			fc.property(any, (about) => {
				expect(changedIn(changedText(about))).toEqual(about);
			})
		);
	});
	it('takes what it does not know for something of the scenario, and loses nothing of it', () => {
		for (const text of ['', 'x', 'a/b', 'basis', 'note/a/b', 'a/b/c/d/e', 'constructor/x'])
			expect(changedIn(text)).toEqual({ what: 'scenario', field: text });
	});
});
