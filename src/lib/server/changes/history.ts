/** History: what was saved in a scenario, by whom, and taking a save back. */
import { may, mayRead } from '../platform/auth/policy';
import { allUsers } from '../platform/auth/sessions';
import { JournalRow } from '../company/subjects/journal';
import { newBatch } from '../company/journal';
import { Refusal } from '../platform/refusal';
import { calendarsIn } from '../scenarios/block-periods';
import { adjustsClosed, closedToIn, keptFromIn } from '../scenarios/individual-pay';
import { scenarioBlocks } from '../scenarios/plan-data';
import { maySeeBlock } from '../scenarios/seen-blocks';
import { planOf } from '../scenarios/plans';
import { mustSee, touchScenario, visibleScenarios, writableScenario } from '../scenarios/scenarios';
import { mustBeSound } from '../scenarios/soundness';
import { companyState, companyFor } from '../company/structure';
import { aboutLines } from './kinds/adjustments';
import { CELLS } from './kinds/cells';
import { changedIn, changedText, type What } from '../company/changed';
import { isPersonal } from '../../core/blocks/schedule/personal';
import { DIVIDED } from '../../core/blocks/schedule/row-changes';
import { ROW_SEPARATOR } from '../../core/engine/row-key';
import { entryOf, type Entry, type Names, type Words } from './kinds/kind';
import { CHANGE_KINDS, kindOf } from './kinds/kinds';
import * as stored from '../platform/db/stored';
import { asOne, type Context } from '../platform/context';

const ChangeRow = JournalRow.pick({ subject: true, before: true, after: true, why: true });

/** Changes that were saved together. */
export interface Save {
	batch: string;
	at: string;
	user: string;
	kind: string;
	/** How many cells and other things it changed. */
	count: number;
	/** The first of them, in the journal's own words and in the reader's. */
	changes: { subject: string; before: string; after: string; why: string; words: Words }[];
	/** Whether it can be taken back as a whole. */
	undoable: boolean;
}

const SavedRow = JournalRow.pick({ batch: true, at: true, user: true, kind: true }).extend({
	count: stored.whole
});

/** Kinds of saves that hold codes of other scenarios. */
const NAMES_SCENARIOS = new Set(['copy', 'close', 'follow', 'scenario']);
const MOST_SHOWN = 12;

/** Saves of a scenario, newest first. @param before leaves out saves that are not older than this moment */
export async function savesOf(context: Context, scenario: string, before?: string): Promise<Save[]> {
	const { db } = context;
	await companyFor(context, 'see scenarios');
	await mustSee(context, scenario);
	// What was kept before saves had names is told apart by its moment.
	const apart = db.raw("case when ?? = '' then ?? else '' end", ['batch', 'at']);
	const newest = db('journal')
		.where({ scenario })
		.groupBy('batch', 'user', 'kind', apart)
		.max({ id: 'id', at: 'at' })
		.count({ count: '*' })
		.select('batch', 'user', 'kind')
		.orderBy('id', 'desc')
		.limit(50);
	if (before) newest.where('at', '<', before);
	const groups = await stored.rows(SavedRow, newest);
	const people = new Map((await allUsers(db)).map((u) => [u.email, u.name]));
	const names = await namesIn(context, scenario);
	const seen = new Set((await visibleScenarios(context)).map((s) => s.code));
	const all = new Set(await stored.texts(db('scenario').pluck('code')));
	/** A scenario's code, unless it is hidden from whoever reads. */
	const told = (code: string) => (all.has(code) && !seen.has(code) ? '' : code);
	const mayLearn = await readableIn(context, scenario);
	return Promise.all(
		groups.map(async (g) => {
			const entries = await stored.rows(
				ChangeRow,
				db('journal')
					.where({ scenario, batch: g.batch, kind: g.kind, ...(g.batch ? {} : { at: g.at }) })
					.orderBy('id')
					.limit(MOST_SHOWN)
			);
			const changes = entries.filter(mayLearn).map((e) => {
				const c = NAMES_SCENARIOS.has(g.kind) ? { ...e, before: told(e.before), after: told(e.after) } : e;
				const entry = entryOf(c);
				// A row that comes or goes is kept with all that stands in it; whether it is there says enough.
				const kept = entry.about.what === 'row' ? { before: '', after: '' } : {};
				return { ...c, ...kept, words: kindOf(entry).words(entry, names) };
			});
			return {
				...g,
				user: people.get(g.user) ?? g.user,
				changes,
				undoable: g.batch !== '' && entries.every((e) => kindOf(entryOf(e)).undo)
			};
		})
	);
}

/**
 * Whether an entry is for whoever reads: of what they may not look into they learn that it was changed, when and by whom.
 * What is in no block of today may have been in one of those.
 */
async function readableIn(
	{ db, user }: Context,
	scenario: string
): Promise<(entry: { subject: string; before: string; after: string }) => boolean> {
	const { departments } = (await companyState(db)).structure;
	const blocks = await scenarioBlocks(db, scenario);
	const pay = may(user, 'see individual pay', departments);
	const personal = await keptFromIn({ db, user }, scenario);
	const closed = await closedToIn({ db, user }, scenario);
	const sees = (code: string) => {
		const block = blocks.get(code);
		return block ? maySeeBlock(user, block, departments) : may(user, 'see schedules', departments) && pay;
	};
	/** What a schedule has no more may have told what people earn. */
	const told = (code: string, line: string) => {
		const block = blocks.get(code);
		if (pay || block?.kind !== 'schedule') return true;
		return block.line(line) !== undefined && !isPersonal(personal, code, line);
	};
	return ({ subject, before, after }) => {
		const about = changedIn(subject);
		if (about.what === 'adjustment')
			return [before, after].every((words) => !adjustsClosed(aboutLines(words), closed));
		if ('block' in about) return sees(about.block) && (!('line' in about) || told(about.block, about.line));
		if (!('schedule' in about)) return true;
		if (!sees(about.schedule)) return false;
		return about.what !== 'column' || about.column === DIVIDED || told(about.schedule, about.column);
	};
}

/** What things are called for whoever reads; what they may not see keeps its code. */
async function namesIn(context: Context, scenario: string): Promise<Names> {
	const { db, user } = context;
	const { structure, calendar } = await companyState(db);
	const { accounts, departments } = structure;
	const blocks = await scenarioBlocks(db, scenario);
	const members = new Map(
		[...structure.dimensions.values()].flatMap(({ dimension }) =>
			dimension.members.map((m) => [m.code, m.name])
		)
	);
	const departmentName = (code: string) => {
		const department = departments.get(code);
		return department && mayRead(user, code, departments) ? department.name : code;
	};
	return {
		calendar,
		calendarOf: await calendarsIn(db, scenario),
		account: (code) => accounts.get(code)?.name ?? code,
		department: departmentName,
		model: (code) => blocks.get(code)?.name ?? code,
		line: (block, code) => blocks.get(block)?.line(code)?.label ?? code,
		row: (block, row) => blocks.get(block)?.rowName(row) ?? row.replaceAll(ROW_SEPARATOR, ' · '),
		named: (code) =>
			accounts.get(code)?.name ?? (departments.get(code) ? departmentName(code) : (members.get(code) ?? code))
	};
}

/** What may take the place of typed figures away, or give it to them. */
const PLACES = new Set<What>(['model', 'schedule', 'row', 'column']);

/** Changes of cells that held something before the save. */
function comingBack(changes: readonly Entry[]): Set<Entry> {
	const cells = changes.filter((c) => c.about.what === 'cell');
	// Newest first: of a cell that was changed twice, the last one told is what it was before.
	const before = new Map(cells.map((c) => [changedText(c.about), c.before]));
	return new Set(cells.filter((c) => before.get(changedText(c.about)) !== ''));
}

/**
 * Takes a save back: every cell, basis, formula and adjustment gets what it was before, each by the door by which it
 * is usually changed.
 * @returns how many changes were taken back
 * @throws Refusal 409 when something of it has changed since, 403 where the user may not; nothing is taken back then
 */
export async function undoSave(context: Context, scenario: string, batch: string): Promise<number> {
	return asOne(context, async (within) => {
		const { db: trx } = within;
		const { calendar } = await companyFor(within, 'change driver models');
		await mustSee(within, scenario);
		await writableScenario(trx, scenario);
		const records = await stored.rows(
			JournalRow,
			trx('journal').where({ scenario, batch }).orderBy('id', 'desc')
		);
		if (!batch || !records.length) throw new Refusal(404, 'There is no such save.');
		const other = records.find((r) => !kindOf(entryOf(r)).undo);
		if (other) throw new Refusal(422, `A change of the kind “${other.kind}” is not taken back here.`);
		const as = { kind: 'undo', batch: newBatch() };
		const changes = records.map(entryOf);
		const withPlaces = changes.some((c) => PLACES.has(c.about.what));
		const by = { scenario, calendar, as, withPlaces };
		// What comes back stands in the form or the row that comes back, and in its periods.
		const later = withPlaces ? comingBack(changes) : new Set<Entry>();
		for (const kind of CHANGE_KINDS) {
			const own = changes.filter((c) => kindOf(c) === kind && !later.has(c));
			if (own.length) await kind.undo!(within, by, own);
		}
		if (later.size) await CELLS.undo!(within, by, [...later] as Entry<'cell'>[]);
		await touchScenario(trx, scenario);
		await mustBeSound(trx, scenario);
		await planOf(trx, scenario);
		return changes.length;
	});
}
