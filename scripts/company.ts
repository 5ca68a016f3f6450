/** Commands on a company's data, from a terminal. */
import { readFileSync } from 'node:fs';
import { companyCommand, refusalText } from '../src/lib/server/transfer/commands';
import { Refusal } from '../src/lib/server/platform/refusal';

companyCommand(process.argv.slice(2), () => readFileSync(0, 'utf8')).then(console.log, (error: unknown) => {
	if (!(error instanceof Refusal)) throw error;
	console.error(refusalText(error));
	process.exit(1);
});
