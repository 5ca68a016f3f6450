/** A staff file of five thousand people, read and compared with the rows that are there, against reading the file alone. */
import ExcelJS from 'exceljs';
import { readRows } from '../src/lib/core/blocks/schedule/read-rows';
import { ScheduleDefinition, type ScheduleRow } from '../src/lib/core/blocks/schedule/schema';
import { monthCalendar } from '../src/lib/core/calendar/calendar';
import { buildStructure } from '../src/lib/core/company/structure';
import { readAmount } from '../src/lib/server/ledger/amounts';
import { readDate } from '../src/lib/server/ledger/columns';
import { tableIn } from '../src/lib/server/platform/csv';
import { readWorkbook } from '../src/lib/server/platform/worksheets/read';
import { SCHEDULE_TEMPLATES } from '../src/lib/core/blocks/schedule/templates';
import { mediansOf, report } from './measure';

const PEOPLE = 5000;
const DEPARTMENTS = 40;
/** Every so many have another pay in the file. */
const CHANGED = 10;

export async function benchImport(): Promise<void> {
	const { form } = SCHEDULE_TEMPLATES.find((t) => t.code === 'people')!;
	const definition = ScheduleDefinition.parse({ ...form, code: 'staff', name: 'Staff' });
	const structure = buildStructure(
		monthCalendar(1),
		[],
		Array.from({ length: DEPARTMENTS }, (_, i) => ({
			code: `d${i}`,
			name: `D${i}`,
			parent: null,
			entity: 'e'
		})),
		[],
		'GBP'
	);
	const rows = Array.from({ length: PEOPLE }, (_, i): ScheduleRow => ({
		id: `E${i}`,
		values: {
			name: `Person ${i}`,
			department: `d${i % DEPARTMENTS}`,
			open_post: i % 50 === 0,
			start: `20${10 + (i % 16)}-0${1 + (i % 9)}-01`,
			annual: 24_000 + i,
			tax_rate: 0.138,
			tax_cap: 50_000,
			benefit: 120,
			leave_hours: 220
		}
	}));
	const typed = definition.columns.filter((c) => c.formula === undefined);
	const book = new ExcelJS.Workbook();
	const sheet = book.addWorksheet('Staff');
	sheet.addRow(['id', ...typed.map((c) => c.label)]);
	rows.forEach(({ id, values }, i) => {
		const cells = typed.map(({ code, kind }) => {
			const value = values[code];
			if (code === 'annual' && i % CHANGED === 0) return Number(value) + 600;
			if (kind === 'date' && value !== undefined) return new Date(`${value}T00:00:00Z`);
			return typeof value === 'boolean' ? (value ? 'yes' : 'no') : (value ?? null);
		});
		sheet.addRow([id, ...cells]);
	});
	const bytes = new Uint8Array(await book.xlsx.writeBuffer());
	const reading = async () => {
		const read = await readWorkbook(bytes);
		if (!('content' in read)) throw new Error(read.refused);
		const { records, rows: lines } = tableIn(read.content, '');
		const found = readRows({ definition, rows }, records, lines, structure, new Map(), {
			number: (t) => readAmount(t, '.'),
			date: (t) => readDate(t, 'year-first')
		});
		if (found.faults.length || found.differences.length !== PEOPLE / CHANGED)
			throw new Error(`${found.faults[0]?.message ?? ''} ${found.differences.length} differences`);
	};
	const alone = () => new ExcelJS.Workbook().xlsx.load(bytes.slice().buffer);
	const [ours, other] = await mediansOf(reading, alone);
	report('schedule.import', ours, other, 'ms', `${PEOPLE} people from XLSX, differences found`);
}
