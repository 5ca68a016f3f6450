/** What must hold within a driver model beyond its formulas. */
import { walk } from '../../formula/ast';
import { FUNCTIONS } from '../../formula/functions';
import { parseFormula } from '../../formula/parse';
import type { ModelDefinition } from './schema';

/** Mistakes in how lines roll up, by line. */
export function checkRollups(definition: ModelDefinition): { line: string; message: string }[] {
	const codes = new Set(definition.lines.map((l) => l.code));
	return definition.lines.flatMap((line) => {
		const { time, members } = line.rollup;
		const found: { line: string; message: string }[] = [];
		const say = (message: string) => found.push({ line: line.code, message });
		if (members.startsWith('weighted:') && !codes.has(members.slice('weighted:'.length)))
			say(
				`its roll-up is weighted by “${members.slice('weighted:'.length)}”, which is no line of this model`
			);
		const byFormula = members === 'formula' || (time === 'formula' && !members.startsWith('weighted:'));
		if (!byFormula) return found;
		const expr = line.formula === undefined ? null : parseFormula(line.formula).expr;
		if (line.scoped?.length)
			say('its total has no single formula, for it has several; weigh it by a line instead');
		if (line.formula === undefined) say('a typed line has no formula to roll up by');
		else if (expr)
			walk(expr, (e) => {
				if (e.kind === 'reference' && e.block !== null)
					say('its roll-up by formula can use lines of this model alone; weigh it by a line instead');
				else if (
					e.kind === 'call' &&
					(['time', 'totals', 'schedules', 'references'].includes(FUNCTIONS.get(e.name)?.group ?? '') ||
						['depreciation', 'npv', 'irr', 'xnpv', 'xirr'].includes(e.name))
				)
					say(`its roll-up by formula cannot use ${e.name}; a total has no single month`);
			});
		return found;
	});
}
