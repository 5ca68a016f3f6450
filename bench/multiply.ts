/** A company many times over: the same accounts, with as many more departments, products, channels and entries. */
import { ACCOUNTS_BLOCK } from '../src/lib/core/engine/spec';
import { ROW_SEPARATOR } from '../src/lib/core/engine/row-key';
import { sharesCode } from '../src/lib/core/blocks/schedule/schema';
import type { Series } from '../src/lib/core/inputs/series';
import type { CompanyData } from '../src/lib/server/company/subjects';
import type { ScenarioRecord } from '../src/lib/server/company/subjects/scenarios';

/** Dimensions whose leaf members are repeated; attributes that name departments go along. */
const REPEATED = ['product', 'channel'];

/**
 * Repeats everything below the topmost department, the leaves of some dimensions with the rows and entries that carry
 * them, and what is planned there. The first of each keeps its code.
 * @param times at least 1; 1 gives the company as it is
 */
export function multiplied(data: CompanyData, times: number): CompanyData {
	const copies = Array.from({ length: times }, (_, k) => k);
	const roots = new Set(data.departments.filter((d) => d.parent === null).map((d) => d.code));
	const codes = new Set(data.departments.map((d) => d.code));
	const again = (code: string, k: number) => (k === 0 ? code : `${code}-${k}`);
	const department = (code: string, k: number) => (roots.has(code) ? code : again(code, k));
	const leaves = new Map(
		data.dimensions.map((d) => {
			const groups = new Set(d.members.map((m) => m.parent));
			const repeated = REPEATED.includes(d.code) ? d.members.filter((m) => !groups.has(m.code)) : [];
			return [d.code, new Set(repeated.map((m) => m.code))];
		})
	);
	const member = (dimension: string, code: string, k: number) =>
		leaves.get(dimension)?.has(code) ? again(code, k) : code;
	const named = (name: string, k: number) => (k === 0 ? name : `${name} ${k + 1}`);
	const each = <T, R>(list: readonly T[], copy: (one: T, k: number) => R) =>
		copies.flatMap((k) => list.map((one) => copy(one, k)));
	/** Rows that hold none of the repeated members are there once. */
	const once = <T>(list: readonly T[], key: (one: T) => string) => [
		...new Map(list.map((one) => [key(one), one])).values()
	];

	function scenario(record: ScenarioRecord): ScenarioRecord {
		const dimensions = new Map(record.definitions.map((d) => [d.code, d.dimensions]));
		const lists = new Set(record.scheduleForms.flatMap((f) => [f.code, sharesCode(f.code)]));
		const placed = new Set(
			record.scheduleForms.flatMap((f) => f.columns.flatMap((c) => (c.kind === 'department' ? c.code : [])))
		);
		/** What a row of a schedule is known by, and a department over which it is divided. */
		const listed = (row: string, k: number) => {
			const [id, at] = row.split(ROW_SEPARATOR);
			return at === undefined ? again(id, k) : `${again(id, k)}${ROW_SEPARATOR}${department(at, k)}`;
		};
		const series = each(record.series, (s, k): Series => ({
			...s,
			row:
				s.block === ACCOUNTS_BLOCK
					? department(s.row, k)
					: lists.has(s.block)
						? listed(s.row, k)
						: s.row
								.split(ROW_SEPARATOR)
								.map((code, i) => member(dimensions.get(s.block)?.[i] ?? '', code, k))
								.join(ROW_SEPARATOR)
		}));
		return {
			...record,
			series: once(series, (s) => `${s.block}/${s.line}/${s.row}`),
			scheduleRows: record.scheduleRows.map(({ schedule, rows }) => ({
				schedule,
				rows: each(rows, (row, k) => ({
					id: again(row.id, k),
					values: Object.fromEntries(
						Object.entries(row.values).map(([c, v]) => [
							c,
							placed.has(c) && typeof v === 'string' ? department(v, k) : v
						])
					),
					...(row.shares ? { shares: row.shares.map((d) => department(d, k)) } : {})
				}))
			})),
			bases: each(record.bases, (b, k) => ({ ...b, department: department(b.department, k) }))
		};
	}

	return {
		...data,
		departments: once(
			each(data.departments, (d, k) => ({
				...d,
				code: department(d.code, k),
				name: roots.has(d.code) ? d.name : named(d.name, k),
				parent: d.parent && department(d.parent, k)
			})),
			(d) => d.code
		),
		dimensions: data.dimensions.map((d) => ({
			...d,
			members: once(
				each(d.members, (m, k) => ({
					...m,
					code: member(d.code, m.code, k),
					name: leaves.get(d.code)!.has(m.code) ? named(m.name, k) : m.name,
					attributes: Object.fromEntries(
						Object.entries(m.attributes).map(([a, v]) => [a, codes.has(v) ? department(v, k) : v])
					)
				})),
				(m) => m.code
			)
		})),
		models: data.models.map((model) => {
			const { dimensions } = model.definition;
			const rows = each(model.rows, (row, k) => row.map((code, i) => member(dimensions[i], code, k)));
			return { ...model, rows: once(rows, (row) => row.join(ROW_SEPARATOR)) };
		}),
		scenarios: data.scenarios.map(scenario),
		entries: each(data.entries, (e, k) => ({
			...e,
			department: department(e.department, k),
			document: again(e.document, k),
			tags: Object.fromEntries(Object.entries(e.tags).map(([d, code]) => [d, member(d, code, k)]))
		})),
		submissions: each(data.submissions, (s, k) => ({ ...s, department: department(s.department, k) })),
		events: each(data.events, (e, k) => ({ ...e, department: department(e.department, k) }))
	};
}
