/** Rounds of collecting, the departments' submissions to them, and what has happened to each. */
import { z } from 'zod';
import { SUBMISSION_STATES } from '../../../core/rounds/submission';
import { insertRows, numbered } from '../../platform/db/rows';
import { plainRows } from '../reading';
import { tableForm } from '../form';
import type { Subject } from '../subject';
import * as cell from '../table';
import { structureOf, takesFigures } from './dimensions';
import { SCENARIOS } from './scenarios';
import * as stored from '../../platform/db/stored';

export const RoundRow = z.object({
	code: stored.text,
	name: stored.text,
	scenario: stored.text,
	due: stored.text,
	instructions: stored.text
});
export type RoundRecord = z.output<typeof RoundRow>;
export const SubmissionRow = z.object({
	round: stored.text,
	department: stored.text,
	state: z.enum(SUBMISSION_STATES),
	due: stored.text,
	/** Account → total over the scenario, when it was submitted. */
	figures: stored.json(z.record(z.string(), z.number())).nullable()
});
export type SubmissionRecord = z.output<typeof SubmissionRow>;
export const EventRow = z.object({
	round: stored.text,
	department: stored.text,
	at: stored.text,
	user: stored.text,
	action: stored.text,
	comment: stored.text
});
export type SubmissionEvent = z.output<typeof EventRow>;

const ROUND_FORM = tableForm({
	path: 'rounds.csv',
	columns: {
		code: cell.code,
		name: cell.name,
		scenario: cell.required,
		due: cell.isoDate,
		instructions: cell.prose
	},
	unique: ['code']
});

export const ROUNDS: Subject<'rounds', RoundRecord[]> = {
	name: 'rounds',
	files: [ROUND_FORM],
	read(folder) {
		const scenarios = new Set(folder.of(SCENARIOS).map((s) => s.scenario.code));
		const rows = folder.table(ROUND_FORM);
		for (const { scenario, rowNumber } of rows)
			folder.expect(
				scenarios.has(scenario),
				ROUND_FORM.path,
				rowNumber,
				'scenario',
				`the scenario “${scenario}” is not in scenarios.csv`
			);
		return plainRows(rows);
	},
	write: (rounds, folder) => folder.table(ROUND_FORM, rounds),
	store: (trx, rounds) => insertRows(trx, 'round', numbered(rounds)),
	load: (db) => stored.rows(RoundRow, db('round').orderBy('position'))
};

const figures: cell.CellReader<Record<string, number>> = (t) => {
	try {
		return z.record(z.string(), z.number()).parse(JSON.parse(t));
	} catch {
		throw 'figures as JSON, account to number';
	}
};
const SUBMISSION_FORM = tableForm({
	path: 'submissions.csv',
	columns: {
		round: cell.required,
		department: cell.required,
		state: cell.oneOf(SUBMISSION_STATES),
		due: cell.isoDate,
		figures: cell.orNull(figures)
	},
	notes: { figures: 'JSON, account → total when it was submitted' },
	unique: ['round', 'department']
});
const figuresText = (s: SubmissionRecord) => (s.figures ? JSON.stringify(s.figures) : null);

export const SUBMISSIONS: Subject<'submissions', SubmissionRecord[]> = {
	name: 'submissions',
	files: [SUBMISSION_FORM],
	read(folder) {
		const structure = structureOf(folder);
		const rounds = new Set(folder.of(ROUNDS).map((r) => r.code));
		const rows = folder.table(SUBMISSION_FORM);
		for (const { round, department, rowNumber } of rows) {
			const expect = (good: boolean, column: string, message: string) =>
				folder.expect(good, SUBMISSION_FORM.path, rowNumber, column, message);
			expect(rounds.has(round), 'round', `the round “${round}” is not in rounds.csv`);
			expect(
				takesFigures(structure, department),
				'department',
				`“${department}” is no department that takes figures`
			);
		}
		return plainRows(rows);
	},
	write: (submissions, folder) =>
		folder.table(
			SUBMISSION_FORM,
			submissions.map((s) => ({ ...s, figures: figuresText(s) }))
		),
	store: (trx, submissions) =>
		insertRows(
			trx,
			'submission',
			submissions.map((s) => ({ ...s, figures: figuresText(s) }))
		),
	load: (db) =>
		stored.rows(
			SubmissionRow,
			db('submission')
				.join('round', 'round.code', 'submission.round')
				.join('department', 'department.code', 'submission.department')
				.orderBy(['round.position', 'department.position'])
				.select('submission.*')
		)
};

const EVENT_FORM = tableForm({
	path: 'submission-events.csv',
	columns: {
		round: cell.required,
		department: cell.required,
		at: cell.required,
		user: cell.text,
		action: cell.required,
		comment: cell.text
	}
});

export const SUBMISSION_EVENTS: Subject<'events', SubmissionEvent[]> = {
	name: 'events',
	files: [EVENT_FORM],
	read: (folder) => plainRows(folder.table(EVENT_FORM)),
	write: (events, folder) => folder.table(EVENT_FORM, events),
	store: (trx, events) => insertRows(trx, 'submission_event', events),
	load: (db) => stored.rows(EventRow, db('submission_event').orderBy('id'))
};
