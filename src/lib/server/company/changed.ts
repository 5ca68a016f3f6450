/**
 * What an entry of the journal is about. In the database and in folders it stands as one text, which is made and read
 * here alone: a word for what it is and its codes, with strokes between; a cell has no word before it.
 */

/** A cell as it is written: its period by the calendar of its block. */
export interface NamedCell {
	block: string;
	line: string;
	row: string;
	period: string;
}

/** What stands in a row of a schedule; it is written as a cell of no period. */
export interface ColumnOfRow {
	schedule: string;
	column: string;
	row: string;
}

/** Codes behind each word; of a dimension itself, without a member, the last is left out. */
const CODES = {
	basis: ['account', 'department'],
	adjustment: ['code'],
	formula: ['model', 'line'],
	model: ['model'],
	rows: ['model'],
	close: ['period'],
	feed: ['period'],
	map: ['ledgerAccount'],
	profile: ['code'],
	rule: ['code'],
	member: ['dimension', 'member'],
	person: ['email'],
	account: ['code'],
	department: ['code'],
	entity: ['code'],
	rates: ['set'],
	module: ['code'],
	schedule: ['code'],
	row: ['schedule', 'id']
} as const;
type Coded = keyof typeof CODES;

export type OnCell = 'note' | 'items' | 'attachment';
const ON_CELL: readonly string[] = ['note', 'items', 'attachment'] satisfies OnCell[];

/** One of many things, told apart by `what`. */
export type Changed =
	| ({ what: 'cell' } & NamedCell)
	| ({ what: OnCell } & NamedCell)
	| ({ what: 'column' } & ColumnOfRow)
	| { [W in Coded]: { what: W } & Record<(typeof CODES)[W][number], string> }[Coded]
	/** Something of a scenario itself: its name, its last period, its lock. */
	| { what: 'scenario'; field: string };
export type What = Changed['what'];
/** What one word of `What` stands for. */
export type About<W extends What> = Extract<Changed, { what: W }>;

const cellText = ({ block, line, row, period }: NamedCell) => `${block}/${line}/${row}/${period}`;
const CELL_PARTS = 4;
const cellIn = ([block, line, row, period]: readonly string[]): NamedCell => ({ block, line, row, period });

const isCoded = (word: string): word is Coded => Object.hasOwn(CODES, word);

export function changedText(about: Changed): string {
	switch (about.what) {
		case 'cell':
			return cellText(about);
		case 'note':
		case 'items':
		case 'attachment':
			return `${about.what}/${cellText(about)}`;
		case 'scenario':
			return about.field;
		case 'column':
			return cellText({ block: about.schedule, line: about.column, row: about.row, period: '' });
		default: {
			const codes = CODES[about.what].map((name) => (about as unknown as Record<string, string>)[name]);
			return [about.what, ...codes.filter((code) => code !== '')].join('/');
		}
	}
}

/** The same read again; what is nothing else is of the scenario. */
export function changedIn(text: string): Changed {
	const parts = text.split('/');
	const [word, ...codes] = parts;
	if (parts.length === CELL_PARTS) {
		const cell = cellIn(parts);
		if (cell.period !== '') return { what: 'cell', ...cell };
		return { what: 'column', schedule: cell.block, column: cell.line, row: cell.row };
	}
	if (ON_CELL.includes(word) && codes.length === CELL_PARTS)
		return { what: word as OnCell, ...cellIn(codes) };
	if (!isCoded(word) || codes.length === 0 || codes.length > CODES[word].length)
		return { what: 'scenario', field: text };
	return {
		what: word,
		...Object.fromEntries(CODES[word].map((name, i) => [name, codes[i] ?? '']))
	} as Changed;
}
