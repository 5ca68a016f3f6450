/** Commands on a company's data: load, save, password, backup, restore. */
import { existsSync, mkdirSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { hashPassword, Password } from '../platform/auth/passwords';
import { backup, restore } from '../platform/db/backup';
import { openDatabase } from '../platform/db/connect';
import { isServed, whileNobodyServes } from '../platform/db/serving';
import { Refusal } from '../platform/refusal';
import { databaseFile } from '../platform/settings';
import { loadFolder, saveFolder } from './folder';

const usage = () => `Usage:
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

const commands: Record<string, (argument: string, input: () => string) => Promise<string>> = {
	async load(folder) {
		const db = await open(true);
		try {
			const assumed = await loadFolder(db, folder);
			const lines = assumed.map((a) => `  ${a.file} has no “${a.column}”: ${a.means}`);
			const loaded = `Loaded ${folder} into ${databaseFile()}.`;
			return lines.length
				? [loaded, 'It was written by an earlier version, so this was assumed:', ...lines].join('\n')
				: loaded;
		} finally {
			await db.destroy();
		}
	},
	async save(folder) {
		const db = await open();
		try {
			return `Wrote ${await saveFolder(db, folder)} files to ${folder}.`;
		} finally {
			await db.destroy();
		}
	},
	async password(email, input) {
		const password = input().trim();
		const fault = Password.safeParse(password).error?.issues[0].message;
		if (fault) throw new Refusal(400, `This is no password: ${fault}.`);
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

/**
 * Does what an administrator asks for; answers what was done, in a sentence.
 * @param args a command and what it is about
 * @param input what stands in standard input, read where the command needs it
 * @throws Refusal 400 with how it is used, for a command that is not there; or why it was not done
 */
export async function companyCommand([command, argument]: string[], input: () => string): Promise<string> {
	if (!command || !argument || !Object.hasOwn(commands, command)) throw new Refusal(400, usage());
	return commands[command](argument, input);
}

/** A refusal with all its places, a line each. */
export const refusalText = ({ message, faults }: Refusal): string =>
	[
		message,
		...faults.map(
			(f) =>
				`  ${[f.file, f.row && `row ${f.row}`, f.column && `column ${f.column}`].filter(Boolean).join(', ')}: ${f.message}` +
				(f.span ? ` (character ${f.span.from + 1})` : '')
		)
	].join('\n');
