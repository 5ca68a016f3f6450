/** Rounds and submissions: who may write a department's plan, and how it moves to approval. */
import { z } from 'zod';
import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import { spanBefore } from '../../core/calendar/last-year';
import {
	isEditable,
	move,
	movesFrom,
	type SubmissionAction,
	type SubmissionState
} from '../../core/rounds/submission';
import { overTime } from '../../core/statements/statement';
import { totalsOf } from '../../core/statements/totals';
import { isBalance } from '../../core/company/sign';
import { ownValue } from '../../core/text';
import { currencyUnder } from '../../core/company/structure';
import type { Plan } from '../../core/scenario/plan';
import { insertMany } from '../platform/db/bulk';
import { mayRead, maySeeScenario, mustRead, submissionRights } from '../platform/auth/policy';
import { activeUsers } from '../platform/auth/sessions';
import {
	EventRow,
	type RoundRecord,
	RoundRow,
	SubmissionRow,
	type SubmissionEvent
} from '../company/subjects/rounds';
import { notFound, Refusal } from '../platform/refusal';
import { newScenarioCode } from '../scenarios/making';
import { planOf } from '../scenarios/plans';
import { getScenario, mustSee } from '../scenarios/scenarios';
import { companyState, companyFor } from '../company/structure';
import * as stored from '../platform/db/stored';
import type { Context, Within } from '../platform/context';
import { timestamp } from '../platform/settings';

const RunningRow = z.object({ department: stored.text, name: stored.text });

const SignedEvent = EventRow.extend({ name: stored.text });

export interface EditRight {
	editable: boolean;
	/** Why not, for people; empty when editable. */
	reason: string;
	submission: { round: string; state: SubmissionState; due: string } | null;
}

const STATE_REASON: Partial<Record<SubmissionState, string>> = {
	submitted:
		'This plan has been submitted and is waiting for review. Withdraw it, or have it returned, to change it.',
	'in review': 'This plan is being reviewed. The reviewer can return it to be changed.',
	approved: 'This plan is approved. A reviewer can reopen it with a reason.'
};

/** Whether and why not the user may edit departments of a scenario; everything is read once. */
export async function editRights(
	context: Context,
	scenarioCode: string
): Promise<(department: string) => EditRight> {
	const { db, user } = context;
	const { departments } = (await companyState(db)).structure;
	const scenario = await getScenario(db, scenarioCode);
	const rows = await stored.rows(
		SubmissionRow,
		db('submission')
			.join('round', 'round.code', 'submission.round')
			.where({ 'round.scenario': scenarioCode })
			.orderBy('round.position')
			.select('submission.*')
	);
	// Of several rounds the last one counts.
	const submissions = new Map(rows.map((r) => [r.department, r]));
	return (department) => {
		const row = submissions.get(department);
		const submission = row ? { round: row.round, state: row.state, due: row.due } : null;
		const no = (reason: string): EditRight => ({ editable: false, reason, submission });
		if (scenario.kind === 'actuals') return no('Actuals come from the ledger and are not typed.');
		if (!departments.isLeaf(department))
			return no('This is the sum of several departments. Open one of them to plan in it.');
		if (scenario.locked) return no(`“${scenario.name}” is locked.`);
		if (user.role !== 'analyst' && user.role !== 'contributor')
			return no('Your role reads figures; it does not plan them.');
		if (!mayRead(user, department, departments)) return no('This is not your department.');
		if (submission && !isEditable(submission.state))
			return no(STATE_REASON[submission.state] ?? 'This plan cannot be changed now.');
		if (!submission && user.role === 'contributor')
			return no('No round is open for this department in this scenario.');
		return { editable: true, reason: '', submission };
	};
}

/** Notes that somebody has begun to write: not started and returned become drafting. */
export async function markDrafting(context: Within, right: EditRight, department: string): Promise<void> {
	const { db: trx, user } = context;
	if (!right.submission || right.submission.state === 'drafting') return;
	const { round } = right.submission;
	await trx('submission').where({ round, department }).update({ state: 'drafting' });
	await addEvent(trx, {
		round,
		department,
		at: timestamp(),
		user: user.email,
		action: 'edit',
		comment: ''
	});
}

async function addEvent(trx: Knex.Transaction, event: SubmissionEvent): Promise<void> {
	await insertMany(trx, 'submission_event', Object.keys(event), [Object.values(event)]);
}

/** Totals of every planned account of a department over the scenario's months, to the cent. */
export function departmentFigures(plan: Plan, department: string): Record<string, number> {
	const { accounts } = plan.structure;
	const totals = totalsOf(plan, plan.structure.calendar, 'local');
	const figures: Record<string, number> = {};
	for (const account of accounts.all) {
		if (!accounts.isLeaf(account.code) || isBalance(account.type)) continue;
		const total = overTime(totals.of(account.code, department), plan.open, plan.scenario.last);
		if (typeof total === 'number') figures[account.code] = Math.round(total * 100) / 100;
	}
	return figures;
}

/** Short mark of a department's figures: equal marks, equal figures. */
export const figuresMark = (figures: Record<string, number>) =>
	createHash('sha256').update(JSON.stringify(figures)).digest('hex').slice(0, 16);

export interface SubmissionView {
	round: string;
	department: string;
	departmentName: string;
	state: SubmissionState;
	due: string;
	overdue: boolean;
	/** Department's result over the plan's months, by root account of the statement. */
	result: number | null;
	/** In which the department plans. */
	currency: string;
	resultBefore: number | null;
	mark: string;
	/** Accounts that changed since it was submitted. */
	changed: { account: string; name: string; submitted: number; now: number }[];
	moves: SubmissionAction[];
	owners: string[];
	reviewers: string[];
	lastEvent: (SubmissionEvent & { name: string }) | null;
	history: (SubmissionEvent & { name: string })[];
}

export interface RoundView extends RoundRecord {
	scenarioName: string;
	submissions: SubmissionView[];
}

/** Rounds with the submissions a user may see, newest round first. */
export async function listRounds(context: Context, today: string): Promise<RoundView[]> {
	const { db, user } = context;
	const { structure } = await companyState(db);
	const rounds = await stored.rows(RoundRow, db('round').orderBy('position', 'desc'));
	const users = await activeUsers(db);
	const views: RoundView[] = [];
	for (const round of rounds) {
		const scenario = await getScenario(db, round.scenario);
		if (!maySeeScenario(user, scenario, structure.departments)) continue;
		const plan = await planOf(db, round.scenario);
		const rows = await stored.rows(SubmissionRow, db('submission').where({ round: round.code }));
		const events = await stored.rows(
			SignedEvent,
			db('submission_event')
				.leftJoin('user', 'user.email', 'submission_event.user')
				.where({ round: round.code })
				.orderBy('submission_event.id', 'desc')
				.select(
					'submission_event.*',
					db.raw('coalesce(??, ??) as ??', ['user.name', 'submission_event.user', 'name'])
				)
		);
		const { last } = plan.scenario;
		const former = spanBefore(plan.structure.calendar, { from: plan.open, to: last });
		// In the currency in which each department plans.
		const own = totalsOf(plan, plan.structure.calendar, 'local');
		const root = structure.accounts.roots.find((a) => a.type === 'revenue' || a.type === 'expense');
		const order = new Map(structure.departmentRows.map((d, i) => [d.code, i]));
		const submissions = rows
			.filter((r) => mayRead(user, r.department, structure.departments))
			.sort((a, b) => order.get(a.department)! - order.get(b.department)!)
			.map((r): SubmissionView => {
				const figures = departmentFigures(plan, r.department);
				const submitted = r.figures;
				const series = root ? own.of(root.code, r.department) : null;
				const total = (from: number, to: number) => {
					const cell = series ? overTime(series, from, to) : null;
					return typeof cell === 'number' ? cell : null;
				};
				const history = events.filter((e) => e.department === r.department);
				const covers = (u: { departments: string[] }) =>
					u.departments.some((d) => structure.departments.within(r.department, d));
				return {
					round: r.round,
					department: r.department,
					departmentName: structure.departments.get(r.department)!.name,
					state: r.state,
					due: r.due,
					currency: currencyUnder(structure, r.department) ?? structure.currency,
					overdue: r.due < today && isEditable(r.state),
					result: total(plan.open, last),
					resultBefore: total(former.from, former.to),
					mark: figuresMark(figures),
					changed:
						submitted && !isEditable(r.state)
							? differences(submitted, figures, (a) => structure.accounts.get(a)?.name ?? a)
							: [],
					moves: movesFrom(r.state, submissionRights(user, r.department, structure.departments)).filter(
						(m) => m !== 'edit'
					),
					owners: users.filter((u) => u.role === 'contributor' && covers(u)).map((u) => u.name),
					reviewers: users.filter((u) => u.role === 'reviewer' && covers(u)).map((u) => u.name),
					lastEvent: history[0] ?? null,
					history
				};
			});
		if (submissions.length || user.role === 'analyst')
			views.push({ ...round, scenarioName: scenario.name, submissions });
	}
	return views;
}

function differences(
	was: Record<string, number>,
	now: Record<string, number>,
	nameOf: (account: string) => string
) {
	return [...new Set([...Object.keys(was), ...Object.keys(now)])]
		.map((a) => ({
			account: a,
			name: nameOf(a),
			submitted: ownValue(was, a) ?? 0,
			now: ownValue(now, a) ?? 0
		}))
		.filter((d) => Math.abs(d.submitted - d.now) >= 0.005);
}

/**
 * Moves a submission on.
 * @param mark the figures' mark as the person saw them; needed to approve
 * @throws Refusal when the move is not open to the user, or the figures have changed since they were shown
 */
export async function moveSubmission(
	context: Context,
	at: { round: string; department: string },
	action: SubmissionAction,
	comment: string,
	mark: string | null
): Promise<SubmissionState> {
	const { db, user } = context;
	const { structure } = await companyState(db);
	mustRead(user, at.department, structure.departments);
	const round = await stored.row(RoundRow, db('round').where({ code: at.round }).first());
	if (!round) throw notFound(`The round “${at.round}”`);
	await mustSee(context, round.scenario);
	const plan = await planOf(db, round.scenario);
	const figures = departmentFigures(plan, at.department);
	return db.transaction(async (trx) => {
		const row = await stored.row(SubmissionRow, trx('submission').where(at).first());
		if (!row) throw notFound('This submission');
		const rights = submissionRights(user, at.department, structure.departments);
		const result = move(row.state, action, rights, comment);
		if ('refused' in result) throw new Refusal(rights.owner || rights.reviewer ? 409 : 403, result.refused);
		if (action === 'approve' && mark !== figuresMark(figures))
			throw new Refusal(
				409,
				'The figures have changed since you opened them. Look at them again before you approve.'
			);
		await trx('submission')
			.where(at)
			.update({ state: result.state, ...(action === 'submit' ? { figures: JSON.stringify(figures) } : {}) });
		await addEvent(trx, {
			...at,
			at: timestamp(),
			user: user.email,
			action,
			comment: comment.trim()
		});
		return result.state;
	});
}

/** Opens a round over departments of a scenario. */
export async function openRound(
	context: Context,
	input: { name: string; scenario: string; due: string; instructions: string; departments: string[] }
): Promise<string> {
	const { db } = context;
	const { structure } = await companyFor(context, 'manage rounds');
	await mustSee(context, input.scenario);
	const scenario = await getScenario(db, input.scenario);
	if (scenario.visibility !== 'all')
		throw new Refusal(422, `“${scenario.name}” is not there for everybody who would have to plan in it.`);
	if (scenario.kind === 'actuals' || scenario.locked)
		throw new Refusal(422, `“${scenario.name}” cannot be planned in.`);
	if (new Set(input.departments).size < input.departments.length)
		throw new Refusal(422, 'A department stands twice in the list; each is asked once.');
	const unknown = input.departments.find((d) => !structure.departmentRow.has(d));
	if (unknown !== undefined) throw new Refusal(422, `“${unknown}” is no department that takes figures.`);
	if (!input.departments.length) throw new Refusal(422, 'Choose at least one department.');
	const running = await stored.row(
		RunningRow,
		db('submission')
			.join('round', 'round.code', 'submission.round')
			.where({ scenario: input.scenario })
			.whereIn('department', input.departments)
			.first('department', 'round.name')
	);
	if (running)
		throw new Refusal(
			409,
			`${structure.departments.get(running.department)!.name} is already asked in “${running.name}” for this scenario.`
		);
	return db.transaction(async (trx) => {
		const taken = new Set(await stored.texts(trx('round').pluck('code')));
		const base = await newScenarioCode(trx, input.name);
		let code = base;
		for (let n = 2; taken.has(code); n++) code = `${base}-${n}`;
		const { position } = await stored.one(
			stored.lastPlace,
			trx('round').max({ position: 'position' }).first()
		);
		await trx('round').insert({
			code,
			name: input.name,
			scenario: input.scenario,
			due: input.due,
			instructions: input.instructions,
			position: (position ?? -1) + 1
		});
		for (const department of input.departments)
			await trx('submission').insert({
				round: code,
				department,
				state: 'not started',
				due: input.due,
				figures: null
			});
		return code;
	});
}
