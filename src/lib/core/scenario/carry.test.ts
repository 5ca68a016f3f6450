/** Each kind of block says how its typed values go on. */
import { expect, it } from 'vitest';
import { blocksOf } from '../blocks/kinds';
import { ModelDefinition } from '../blocks/driver-model/schema';
import { monthCalendar } from '../calendar/calendar';
import { buildStructure } from '../company/structure';
import { carrySeries } from './carry';

const calendar = monthCalendar(4);
const first = calendar.parse('2026-04')!;

it('typed values go on as their line says; of planned accounts, as who carries them on says', () => {
	const structure = buildStructure(
		calendar,
		[{ code: 'sales', name: 'Sales', parent: null, type: 'revenue', rollup: 'sum', format: 'money' }],
		[{ code: 'a', name: 'A', parent: null, entity: 'e' }],
		[],
		'GBP'
	);
	const definition = ModelDefinition.parse({
		code: 'm',
		name: 'M',
		lines: [{ code: 'units', label: 'U', extend: 'last' }]
	});
	const year = { row: '', first, values: Float64Array.from({ length: 12 }, (_, i) => i + 1) };
	const [units, sales, gone] = carrySeries(
		[
			{ ...year, block: 'm', line: 'units' },
			{ ...year, block: 'accounts', line: 'sales', row: 'a' },
			{ ...year, block: 'm', line: 'gone' }
		],
		blocksOf(structure, { models: [{ definition, rows: [] }] }),
		{ had: first + 11, last: first + 12, calendar },
		'year-ago'
	);
	expect([units.values[12], sales.values[12], gone.values[12]]).toEqual([12, 1, undefined]);
});
