/** Combination rules: which members may hold data together. */
import type { Knex } from 'knex';
import { z } from 'zod';
import { ruleFaults } from '../../../core/inputs/combinations';
import { CombinationRule } from '../../../core/inputs/schema';
import { treeOf } from '../../../core/company/structure';
import { insertRows } from '../../platform/db/rows';
import type { Subject } from '../subject';
import { structureOf } from './dimensions';
import * as stored from '../../platform/db/stored';

const FILE = 'combination-rules.json';

export const RULES: Subject<'rules', CombinationRule[]> = {
	name: 'rules',
	files: [
		{
			path: FILE,
			says: 'which members may hold data together, in order: `code`, `name`, `on`, `effect` (block, allow), `lead` and `others` of `dimension`, `under`, `except`'
		}
	],
	read(folder) {
		if (!folder.files.has(FILE)) return [];
		const structure = structureOf(folder);
		const list = folder.json(FILE, z.array(CombinationRule).max(500)) ?? [];
		list.forEach((rule, i) => {
			const column = `${i + 1}`;
			if (list.findIndex((r) => r.code === rule.code) < i)
				folder.faults.push({ file: FILE, column, message: `“${rule.code}” stands twice` });
			for (const message of ruleFaults(rule, (d) => treeOf(structure, d)))
				folder.faults.push({ file: FILE, column, message });
		});
		return list;
	},
	write(rules, folder) {
		if (rules.length) folder.json(FILE, rules);
	},
	store: (trx, rules) => insertRows(trx, 'combination_rule', rules.map(ruleToRow)),
	load: readRules
};

export const ruleToRow = ({ code, ...content }: CombinationRule, position: number) => ({
	code,
	content: JSON.stringify(content),
	position
});

const RuleRow = z.object({
	code: stored.text,
	content: stored.json(CombinationRule.omit({ code: true }))
});

/** Combination rules in their order. */
export async function readRules(db: Knex): Promise<CombinationRule[]> {
	const rows = await stored.rows(RuleRow, db('combination_rule').orderBy('position'));
	return rows.map(({ code, content }) => ({ code, ...content }));
}
