/** Which of a line's formulas applies in a cell. */
import type { Calendar, Period } from '../../calendar/calendar';
import { periodNamed } from '../../calendar/onto';
import type { Line, ModelDefinition, ScopedFormula } from './schema';
import { modelCalendar } from './periods';
import { isUnder } from './rows';
import type { Structure } from '../../company/structure';

/** The first scoped formula that fits a cell of an open month, or null where the line's own applies. */
export function scopeAt(
	line: Line,
	period: Period,
	calendar: Calendar,
	/** Whether the cell's row lies under members (dimension → member). */
	isUnder: (where: Readonly<Record<string, string>>) => boolean
): ScopedFormula | null {
	const month = (key: string | undefined, otherwise: number) =>
		key === undefined ? otherwise : (periodNamed(calendar, key) ?? otherwise);
	return (
		line.scoped?.find(
			(s) => period >= month(s.from, -Infinity) && period <= month(s.to, Infinity) && isUnder(s.where)
		) ?? null
	);
}

/** Whether some cell of a line may be typed. */
export const takesTyping = (line: Line): boolean =>
	line.formula === undefined || (line.scoped ?? []).some((s) => s.formula === undefined);

/** Whether a cell of an open month is typed rather than calculated. */
export function isTypedCell(
	line: Line,
	definition: ModelDefinition,
	coordinate: readonly string[],
	period: Period,
	structure: Structure
): boolean {
	const calendar = modelCalendar(definition, structure.calendar);
	const scope = scopeAt(line, period, calendar, (where) => isUnder(where, definition, coordinate, structure));
	return (scope ? scope.formula : line.formula) === undefined;
}
