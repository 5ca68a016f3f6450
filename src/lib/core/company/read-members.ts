/** Members of a dimension read from a list: those that are there are changed, others are added. */
import { isNoKey, textFault } from '../text';
import { codeFor } from './code';
import { Code, type Member } from './schema';

export interface MemberChanges {
	/** All members afterwards; those that are new stand behind the others. */
	members: Member[];
	/** Those that differ, in the order of the list; `before` is null for a new one. */
	changes: { before: Member | null; after: Member }[];
}
export interface ListFault {
	/** As a spreadsheet counts; the headings are the first. */
	row: number;
	column?: string;
	message: string;
}

const OWN = ['code', 'name', 'parent', 'retired'] as const;
type Own = (typeof OWN)[number];
const ATTRIBUTE = /^[A-Za-z_][A-Za-z0-9_]{0,63}$/;
const MOST_TEXT = { name: 120, attribute: 200 };

/**
 * A row that names the code of a member, or without a code its name, changes it; an empty cell leaves what is there.
 * A parent is named by its code or its name, and may stand in the list itself.
 * @param records cells by row, headings first @param rows the row of each in the file
 */
export function readMembers(
	records: readonly (readonly string[])[],
	rows: readonly number[],
	present: readonly Member[]
): MemberChanges & { faults: ListFault[] } {
	const faults: ListFault[] = [];
	const headings = (records[0] ?? []).map((h) => h.trim());
	const placeOf = (own: Own) => headings.findIndex((h) => h.toLowerCase() === own);
	if (placeOf('name') < 0 && placeOf('code') < 0)
		return {
			members: [...present],
			changes: [],
			faults: [
				{
					row: rows[0] ?? 1,
					message: 'the first line has to be headings: name, and if wanted code, parent and attributes'
				}
			]
		};
	const attributes = headings.flatMap((heading, at) =>
		OWN.some((own) => own === heading.toLowerCase()) || heading === '' ? [] : [{ heading, at }]
	);
	for (const { heading } of attributes)
		if (!ATTRIBUTE.test(heading) || isNoKey(heading))
			faults.push({
				row: rows[0],
				column: heading,
				message: 'is no name of an attribute: letters, digits and underscore, a letter first'
			});
	const byCode = new Map(present.map((m) => [m.code, m]));
	const byName = new Map(present.map((m) => [m.name, m]));
	const taken = new Set(byCode.keys());
	const found: { row: number; before: Member | null; after: Member; parent: string }[] = [];
	const seen = new Map<string, number>();
	for (const [i, record] of records.entries()) {
		if (i === 0) continue;
		const row = rows[i];
		const fail = (message: string, column?: string) => faults.push({ row, column, message });
		const cell = (own: Own) => (placeOf(own) < 0 ? '' : (record[placeOf(own)] ?? '').trim());
		const [code, name] = [cell('code'), cell('name')];
		const before = (code === '' ? byName.get(name) : byCode.get(code)) ?? null;
		if (before === null && name === '') fail('a new member needs a name', 'name');
		const wrong = textFault(name) ?? (name.length > MOST_TEXT.name ? 'is too long' : null);
		if (wrong) fail(wrong, 'name');
		if (code !== '' && before === null && !Code.safeParse(code).success)
			fail(`“${code}” is no code of letters, digits, dot, dash and underscore`, 'code');
		const own = before?.code ?? (code || codeFor(name, '-', taken, 'member'));
		taken.add(own);
		const earlier = seen.get(own);
		if (earlier !== undefined) fail(`“${name || own}” stands in row ${earlier} already`);
		seen.set(own, row);
		const values: Record<string, string> = { ...before?.attributes };
		for (const { heading, at } of attributes) {
			const value = (record[at] ?? '').trim();
			if (value === '') continue;
			const fault = textFault(value) ?? (value.length > MOST_TEXT.attribute ? 'is too long' : null);
			if (fault) fail(fault, heading);
			values[heading] = value;
		}
		const retired = cell('retired').toLowerCase();
		if (!['', 'yes', 'no'].includes(retired)) fail(`“${retired}” is neither yes nor no`, 'retired');
		const after = {
			code: own,
			name: name || (before?.name ?? ''),
			parent: before?.parent ?? null,
			retired: retired === '' ? (before?.retired ?? false) : retired === 'yes',
			attributes: values
		};
		found.push({ row, before, after, parent: cell('parent') });
	}
	// A parent may stand further down, and names may have changed.
	const all = new Map(present.map((m) => [m.code, m]));
	for (const { after } of found) all.set(after.code, after);
	const named = new Map([...all.values()].map((m) => [m.name, m]));
	for (const { row, after, parent } of found) {
		const twin = [...all.values()].find((m) => m.code !== after.code && m.name === after.name);
		if (twin)
			faults.push({ row, column: 'name', message: `“${after.name}” is the name of ${twin.code} already` });
		if (parent === '') continue;
		const above = all.get(parent) ?? named.get(parent);
		if (above) after.parent = above.code;
		else faults.push({ row, column: 'parent', message: `there is no member “${parent}”` });
	}
	const changes = found
		.map(({ before, after }) => ({ before, after }))
		.filter(({ before, after }) => JSON.stringify(sorted(before)) !== JSON.stringify(sorted(after)));
	return { members: [...all.values()], changes, faults: faults.sort((a, b) => a.row - b.row) };
}

/** The same with attributes in the order of their names. */
const sorted = (m: Member | null) =>
	m && [
		m.code,
		m.name,
		m.parent,
		m.retired,
		Object.entries(m.attributes).sort(([a], [b]) => (a < b ? -1 : 1))
	];
