/** The whole company as a zip, for who may see all of it. */
import { z } from 'zod';
import { readStored, writeCompany } from '../company/subjects';
import { companyFor } from '../company/structure';
import { maySeeScenario } from '../platform/auth/policy';
import type { Context } from '../platform/context';
import * as stored from '../platform/db/stored';
import { Refusal } from '../platform/refusal';
import { VISIBILITIES } from '../platform/auth/roles';
import { keptFrom } from '../scenarios/individual-pay';
import { packed } from './archive';
import { withoutFigures } from './without-figures';

const ShownRow = z.object({
	visibility: z.enum(VISIBILITIES),
	people: stored.text.transform((list) => list.split(';').filter(Boolean)),
	owner: stored.text
});

/**
 * @param figures also what was typed, booked and said; without them it is what another company can begin with
 * @throws Refusal 403 where something in it is not for this user to see, deleted scenarios included
 */
export async function companyArchive(
	context: Context,
	figures = true
): Promise<{ name: string; bytes: Uint8Array }> {
	const { company, structure } = await companyFor(context, 'take the company');
	const scenarios = await stored.rows(
		ShownRow,
		context.db('scenario').select('visibility', 'people', 'owner')
	);
	if (!scenarios.every((s) => maySeeScenario(context.user, s, structure.departments)))
		throw new Refusal(
			403,
			'There are scenarios that you may not see, so you cannot take the whole company. Whoever runs the server can save it: npm run company -- save <folder>.'
		);
	const held = await readStored(context.db);
	const forms = held.scenarios.flatMap((s) => s.scheduleForms);
	if (figures && keptFrom(context.user, forms, structure).size)
		throw new Refusal(
			403,
			'Schedules tell what single people earn, which you may not see, so you cannot take the whole company. Somebody who sees individual pay can.'
		);
	const files = writeCompany(figures ? held : withoutFigures(held));
	return { name: figures ? company.name : `${company.name}, without figures`, bytes: await packed(files) };
}
