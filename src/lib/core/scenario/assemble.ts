/** Puts a scenario together: its driver models and the planned accounts as blocks of one calculation. */
import type { Period } from '../calendar/calendar';
import { axisOf } from '../engine/axis';
import { Calculation } from '../engine/calculation';
import { ModelError, type BlockSpec, type LineSpec } from '../engine/spec';
import { cellAt } from '../engine/values';
import type { Expr } from '../formula/ast';
import { formulasOf } from '../blocks/driver-model/schema';
import { LEDGER_BLOCK, type Origin } from '../blocks/accounts/schema';
import type { Scenario } from './schema';
import { planLine } from '../blocks/accounts/adjust-account';
import { adjustBlocks } from './adjusted-inputs';
import { basisFormula, ref } from '../blocks/accounts/basis';
import { foreignBlocks } from './foreign';
import { accountLines, basisLine, postedLine, typedLine } from '../blocks/accounts/block';
import { lineKey, modelBlock, seriesByLine } from '../blocks/driver-model/block';
import { namesFor } from '../blocks/driver-model/names';
import { collectPostings } from '../blocks/driver-model/postings';
import type { Plan } from './plan';
import type { ScenarioData } from './data';
import { treeOf, type Structure } from '../company/structure';

/** First period that is plan: after the actuals, and not before the scenario's own first. */
export function firstOpen(scenario: Scenario): Period {
	return scenario.actualsThrough === null
		? scenario.first
		: Math.max(scenario.first, scenario.actualsThrough + 1);
}

/**
 * Builds and calculates a scenario.
 * @throws ModelError for a model that cannot be calculated
 */
export function calculateScenario(structure: Structure, data: ScenarioData): Plan {
	const plan = buildScenario(structure, data);
	plan.calculation.calculate();
	return plan;
}

/**
 * Builds a scenario without calculating it.
 * @throws ModelError for a model that cannot be calculated
 */
export function buildScenario(structure: Structure, data: ScenarioData): Plan {
	const { calendar, accounts } = structure;
	const { scenario, history } = data;
	const open = firstOpen(scenario);
	const first = Math.min(history.first, scenario.first - calendar.periodsPerYear);
	const axis = axisOf(calendar, first, scenario.last - first + 1, open - first);

	const seriesOf = seriesByLine(data.series);
	const derivedOf = seriesByLine(data.derived ?? []);
	mustBeReadable(data);
	const definitions = data.models.map((m) => m.definition);
	const sources = {
		accounts,
		dimensions: [...structure.dimensions.values()].map((d) => d.dimension),
		currency: structure.currency,
		scenarios: [...(data.others?.keys() ?? [])]
	};
	const modelBlocks = data.models.map((m) =>
		modelBlock(
			m,
			namesFor(m.definition, definitions, sources),
			structure,
			{ typed: seriesOf, derived: derivedOf },
			axis
		)
	);
	const postings = collectPostings(data.models, structure);
	const basisOf = new Map(data.bases.map((b) => [`${b.account}\u0000${b.department}`, b.basis]));
	const originOf = (account: string, department: string): Origin => {
		const posted = postings.get(account)?.filter((p) => p.rowsOf.has(department));
		if (posted?.length) return { kind: 'posted', models: [...new Set(posted.map((p) => p.model))] };
		return { kind: 'basis', basis: basisOf.get(`${account}\u0000${department}`) ?? { kind: 'typed' } };
	};

	const basisExprOf = (account: string, department: string): Expr | null => {
		const origin = originOf(account, department);
		return origin.kind === 'posted' ? ref(postedLine(account)) : basisFormula(account, origin.basis);
	};

	const ledger: BlockSpec & { lines: LineSpec[] } = {
		id: LEDGER_BLOCK,
		dimensions: ['department'],
		rows: structure.departmentRows.map((d) => [d.code]),
		lines: []
	};
	for (const account of accounts.all) {
		if (!accounts.isLeaf(account.code)) continue;
		ledger.lines.push(
			...accountLines(account, structure, {
				axis,
				history,
				typed: seriesOf.get(lineKey(LEDGER_BLOCK, account.code)) ?? [],
				inflows: postings.get(account.code) ?? [],
				expr: (department) => basisExprOf(account.code, department)
			})
		);
	}

	const within = (dimension: string, member: string, under: string) =>
		treeOf(structure, dimension)?.within(member, under) ?? member === under;
	const { blocks, inputs } = adjustBlocks([...modelBlocks, ledger], data.adjustments ?? [], axis, within);
	const foreign = foreignBlocks(data.others ?? new Map(), axis);
	const calculation = new Calculation({ axis, within }, [...blocks, ...foreign]);
	return {
		structure,
		scenario,
		calculation,
		models: new Map(data.models.map((m) => [m.definition.code, m])),
		open,
		inputs,
		origin: originOf,
		basisExpr: basisExprOf,
		typedAt(account, department) {
			const row = structure.departmentRow.get(department);
			const line = typedLine(account);
			if (row === undefined || !calculation.has(LEDGER_BLOCK, line)) return () => null;
			const matrix = inputs.original(LEDGER_BLOCK, line) ?? calculation.matrix(LEDGER_BLOCK, line);
			return (period) => {
				const t = period - axis.first;
				return t >= 0 && t < axis.length ? cellAt(matrix, row, t) : null;
			};
		},
		basisCell(account, department, period) {
			const row = structure.departmentRow.get(department);
			const origin = originOf(account, department);
			if (row === undefined || (origin.kind === 'basis' && origin.basis.kind === 'typed')) return null;
			const over = this.typedAt(account, department)(period) !== null;
			const lines = [...(over ? [basisLine(account)] : []), planLine(account), account];
			const line = lines.find((l) => calculation.has(LEDGER_BLOCK, l));
			return line === undefined ? null : calculation.cell(LEDGER_BLOCK, line, row, period);
		},
		postings: (account, department) =>
			(postings.get(account) ?? []).flatMap((p) => {
				const rows = p.rowsOf.get(department);
				return rows ? [{ model: p.model, line: p.line, rows }] : [];
			})
	};
}

/** Most characters of all formulas of a scenario: reading them must not keep others waiting. */
export const MOST_FORMULA_TEXT = 300_000;

/** @throws ModelError when there is too much to read */
function mustBeReadable({ models }: ScenarioData): void {
	let text = 0;
	for (const { definition } of models)
		for (const line of definition.lines)
			for (const formula of formulasOf(line)) {
				text += formula.length;
				if (text > MOST_FORMULA_TEXT)
					throw new ModelError(
						definition.code,
						line.code,
						`All formulas together have more than ${MOST_FORMULA_TEXT} characters.`
					);
			}
}
