/** What must hold of a driver model's definition before anything is calculated with it. */
import type { Calendar } from '../../calendar/calendar';
import { periodNamed } from '../../calendar/onto';
import { checkFormula } from '../../formula/check';
import { planFault } from '../../company/chart';
import { checkRollups } from './check';
import { RESERVED_CODES } from '../../company/code';
import type { ModelDefinition } from './schema';
import type { DefinitionFault, DefinitionSources } from '../definition';
import { lineQuantity, namesFor } from './names';
import { modelCalendar } from './periods';

/**
 * @param all the models of the same scenario, this one among them or not
 * @param company the company’s calendar
 */
export function definitionFaults(
	definition: ModelDefinition,
	all: readonly ModelDefinition[],
	sources: DefinitionSources,
	company: Calendar
): DefinitionFault[] {
	const calendar = modelCalendar(definition, company);
	const faults: DefinitionFault[] = [];
	const expect = (good: boolean, column: string, message: string) => {
		if (!good) faults.push({ column, message });
	};
	const names = namesFor(definition, all, sources);
	const codes = new Set<string>();
	const { departments } = sources;
	const dimensions = new Map(sources.dimensions.map((d) => [d.code, d]));
	const checkMembers = (where: Readonly<Record<string, string>>, column: string) => {
		for (const [dimension, member] of Object.entries(where)) {
			expect(definition.dimensions.includes(dimension), column, `this model has no dimension “${dimension}”`);
			const known = dimensions.get(dimension);
			if (known)
				expect(
					known.members.some((m) => m.code === member),
					column,
					`“${member}” is no member of ${known.name}`
				);
			else if (dimension === 'department')
				expect(departments.get(member) !== undefined, column, `there is no department “${member}”`);
		}
	};
	const checkMonth = (month: string | undefined, column: string) =>
		expect(
			month === undefined || periodNamed(calendar, month) !== null,
			column,
			`“${month}” is no ${calendar.words.one} such as ${calendar.words.sample}`
		);
	const checkTarget = (target: ModelDefinition['postings'][number]['account'], column: string) => {
		if (!('attribute' in target)) return;
		const [dimension] = target.attribute.split('.');
		expect(definition.dimensions.includes(dimension), column, `this model has no dimension “${dimension}”`);
	};
	const checkAccount = (target: ModelDefinition['postings'][number]['account']) => {
		const fault = 'code' in target ? planFault(sources.accounts, target.code) : null;
		expect(fault === null, 'postings.account', fault ?? '');
		checkTarget(target, 'postings.account');
	};
	const checkDepartment = (target: ModelDefinition['postings'][number]['department']) => {
		if ('code' in target)
			expect(
				departments.get(target.code) !== undefined && departments.isLeaf(target.code),
				'postings.department',
				`“${target.code}” is no department that takes figures`
			);
		checkTarget(target, 'postings.department');
	};

	expect(
		!RESERVED_CODES.has(definition.code) && !dimensions.has(definition.code),
		'code',
		`“${definition.code}” has another meaning; call the model something else`
	);
	definition.dimensions.forEach((d, i) => {
		expect(d === 'department' || dimensions.has(d), 'dimensions', `there is no dimension “${d}”`);
		expect(definition.dimensions.indexOf(d) === i, 'dimensions', `“${d}” stands twice`);
	});
	for (const line of definition.lines) {
		const at = `lines.${line.code}`;
		expect(!codes.has(line.code), at, 'the line stands twice');
		codes.add(line.code);
		expect(
			line.closed !== 'actuals' || definition.postings.some((p) => p.line === line.code),
			`${at}.closed`,
			'“actuals” takes what the ledger holds where the line posts to; it has no posting'
		);
		line.scoped?.forEach((s, i) => {
			checkMembers(s.where, `${at}.scoped.${i + 1}.where`);
			checkMonth(s.from, `${at}.scoped.${i + 1}.from`);
			checkMonth(s.to, `${at}.scoped.${i + 1}.to`);
		});
		const formulas = [
			[`${at}.formula`, line.formula] as const,
			[`${at}.actual`, line.actual] as const,
			...(line.scoped ?? []).map((s, i) => [`${at}.scoped.${i + 1}.formula`, s.formula] as const)
		];
		for (const [column, formula] of formulas)
			if (formula !== undefined)
				for (const e of checkFormula(formula, names, lineQuantity(line, sources.money)).errors)
					faults.push({ column, message: e.message, span: e.span });
	}
	for (const { line, message } of checkRollups(definition))
		faults.push({ column: `lines.${line}.rollup`, message });
	for (const p of definition.postings) {
		expect(codes.has(p.line), 'postings.line', `there is no line “${p.line}”`);
		checkAccount(p.account);
		checkDepartment(p.department);
		checkMembers(p.where, 'postings.where');
	}
	definition.proofs?.forEach((proof, i) => {
		const at = `proofs.${i + 1}`;
		expect(codes.has(proof.line), `${at}.line`, `there is no line “${proof.line}”`);
		checkMonth(proof.first, `${at}.first`);
		checkMembers(proof.where, `${at}.where`);
	});
	return faults;
}
