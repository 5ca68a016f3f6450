/** Commands on a company's data: load, save, password, backup, restore. */
import { copyFileSync, existsSync, readFileSync } from 'node:fs';
import { hashPassword } from '../src/lib/server/auth/passwords';
import { loadFolder, saveFolder } from '../src/lib/server/company/folder';
import { openDatabase } from '../src/lib/server/db/connect';
import { databaseFile } from '../src/lib/server/settings';
import { Refusal } from '../src/lib/server/refusal';

const USAGE = `Usage:
  npm run company -- load <folder>       loads a company folder into an empty database
  npm run company -- save <folder>       writes the company to a new folder
  npm run company -- password <e-mail>   sets a user's password, read from standard input
  npm run company -- backup <file>       copies the database, also while it is in use
  npm run company -- restore <file>      puts a backup in the place of a database that is gone
The database is the file in YARDSTAVE_DATABASE (now ${databaseFile()}).`;

async function main([command, argument]: string[]): Promise<void> {
	if (!command || !argument) throw new Refusal(400, USAGE);
	if (command === 'restore') {
		if (existsSync(databaseFile()))
			throw new Refusal(
				409,
				`${databaseFile()} exists. Stop the server and move the file (and its -wal and -shm) away first.`
			);
		copyFileSync(argument, databaseFile());
		await (await openDatabase(databaseFile())).destroy();
		console.log(`Restored ${argument} to ${databaseFile()}; its integrity is checked.`);
		return;
	}
	const db = await openDatabase(databaseFile());
	try {
		switch (command) {
			case 'load':
				await loadFolder(db, argument);
				console.log(`Loaded ${argument} into ${databaseFile()}.`);
				break;
			case 'save':
				console.log(`Wrote ${await saveFolder(db, argument)} files to ${argument}.`);
				break;
			case 'password': {
				const password = readFileSync(0, 'utf8').trim();
				if (password.length < 10) throw new Refusal(400, 'A password has at least 10 characters.');
				const changed = await db('user')
					.where({ email: argument.toLowerCase() })
					.update({ password_hash: await hashPassword(password) });
				if (!changed) throw new Refusal(404, `There is no user ${argument}.`);
				await db('session').where({ email: argument.toLowerCase() }).delete();
				console.log(`The password of ${argument} is set; open sessions have ended.`);
				break;
			}
			case 'backup':
				await db.raw('VACUUM INTO ?', [argument]);
				console.log(`Backed up to ${argument}.`);
				break;
			default:
				throw new Refusal(400, USAGE);
		}
	} finally {
		await db.destroy();
	}
}

main(process.argv.slice(2)).catch((error: unknown) => {
	if (!(error instanceof Refusal)) throw error;
	console.error(error.message);
	for (const f of error.faults)
		console.error(
			`  ${[f.file, f.row && `row ${f.row}`, f.column && `column ${f.column}`].filter(Boolean).join(', ')}: ${f.message}` +
				(f.span ? ` (character ${f.span.from + 1})` : '')
		);
	process.exit(1);
});
