/** Commands on a company's data: load, save, password, backup, restore. */
import { existsSync, mkdirSync, readFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { hashPassword } from '../src/lib/server/platform/auth/passwords';
import { loadFolder, saveFolder } from '../src/lib/server/transfer/folder';
import { backup, restore } from '../src/lib/server/platform/db/backup';
import { openDatabase } from '../src/lib/server/platform/db/connect';
import { isServed, whileNobodyServes } from '../src/lib/server/platform/db/serving';
import { databaseFile } from '../src/lib/server/platform/settings';
import { Refusal } from '../src/lib/server/platform/refusal';

const USAGE = `Usage:
  npm run company -- load <folder>       loads a company folder into an empty database
  npm run company -- save <folder>       writes the company to a new folder
  npm run company -- password <e-mail>   sets a user's password, read from standard input
  npm run company -- backup <file>       copies the database, also while it is in use
  npm run company -- restore <file>      puts a backup in the place of a database that is gone
The database is the file in YARDSTAVE_DATABASE (now ${databaseFile()}).`;

/** Opens the database for a command: brought to the present form when no server has it open, else as it is. */
async function open(create = false) {
	const file = databaseFile();
	if (!create && !existsSync(file)) throw new Refusal(404, `There is no database ${file}.`);
	mkdirSync(dirname(file), { recursive: true });
	return isServed(file) ? openDatabase(file, false) : whileNobodyServes(file, () => openDatabase(file));
}

const commands: Record<string, (argument: string) => Promise<string>> = {
	async load(folder) {
		const db = await open(true);
		try {
			await loadFolder(db, folder);
		} finally {
			await db.destroy();
		}
		return `Loaded ${folder} into ${databaseFile()}.`;
	},
	async save(folder) {
		const db = await open();
		try {
			return `Wrote ${await saveFolder(db, folder)} files to ${folder}.`;
		} finally {
			await db.destroy();
		}
	},
	async password(email) {
		const password = readFileSync(0, 'utf8').trim();
		if (password.length < 10) throw new Refusal(400, 'A password has at least 10 characters.');
		if (password.length > 1024) throw new Refusal(400, 'A password has at most 1,024 characters.');
		const db = await open();
		try {
			const changed = await db('user')
				.where({ email: email.toLowerCase() })
				.update({ password_hash: await hashPassword(password) });
			if (!changed) throw new Refusal(404, `There is no user ${email}.`);
			await db('session').where({ email: email.toLowerCase() }).delete();
		} finally {
			await db.destroy();
		}
		return `The password of ${email} is set; open sessions have ended.`;
	},
	async backup(file) {
		await backup(databaseFile(), resolve(file));
		return `Backed up to ${file}.`;
	},
	async restore(file) {
		await restore(resolve(file), databaseFile());
		return `Restored ${file} to ${databaseFile()}; its integrity is checked.`;
	}
};

async function main([command, argument]: string[]): Promise<void> {
	if (!command || !argument || !Object.hasOwn(commands, command)) throw new Refusal(400, USAGE);
	console.log(await commands[command](argument));
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
