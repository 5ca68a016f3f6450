/** Answers of the API with their periods in the calendar's writing. */
import type { Knex } from 'knex';
import { calendarOf } from '../../core/calendar/calendar-of';
import type { AnyCalendarSpec } from '../../core/calendar/spec';
import { inWriting, type Written } from '../../core/calendar/writing';
import { companyState } from '../company/structure';

/** The form of a calendar, and which columns of a file hold what, by codes of dimensions. */
const LEFT = ['calendar', 'options'];

/**
 * An answer in the company's periods.
 * @param left what of it is named by people’s codes
 */
export const inCompanyWriting = async <T, Name extends string>(
	db: Knex,
	answer: T,
	names: readonly Name[],
	left: readonly string[] = []
): Promise<Written<T, Name>> =>
	inWriting((await companyState(db)).calendar, answer, names, [...LEFT, ...left]);

/** An answer that says itself in whose periods it stands. */
export const inOwnWriting = <T extends { calendar: AnyCalendarSpec }, Name extends string>(
	answer: T,
	names: readonly Name[]
): Written<T, Name> => inWriting(calendarOf(answer.calendar), answer, names, LEFT);
