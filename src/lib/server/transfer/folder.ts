/** The company folder on disk. */
import type { Assumption } from '../company/reading';
import {
	existsSync,
	mkdirSync,
	readdirSync,
	readFileSync,
	renameSync,
	rmSync,
	statSync,
	writeFileSync
} from 'node:fs';
import { dirname, join, relative, sep } from 'node:path';
import type { Knex } from 'knex';
import { Refusal, type Fault } from '../platform/refusal';
import { readCompany, readStored, writeCompany } from '../company/subjects';
import { loadCompany } from './load';

/** Files of a folder that belong to a company: path with forward slashes → content. */
export function readFolder(folder: string): Map<string, string> {
	if (!existsSync(folder) || !statSync(folder).isDirectory())
		throw new Refusal(404, `There is no folder ${folder}.`);
	const files = new Map<string, string>();
	const faults: Fault[] = [];
	const utf8 = new TextDecoder('utf-8', { fatal: true });
	const visit = (path: string) => {
		for (const entry of readdirSync(path, { withFileTypes: true })) {
			const full = join(path, entry.name);
			if (entry.isDirectory()) visit(full);
			else if (/\.(csv|json)$/.test(entry.name)) {
				const file = relative(folder, full).split(sep).join('/');
				try {
					files.set(file, utf8.decode(readFileSync(full)));
				} catch (e) {
					if (!(e instanceof TypeError)) throw e;
					faults.push({ file, message: 'is not UTF-8. Save it as UTF-8, so that no character is lost.' });
				}
			}
		}
	};
	visit(folder);
	if (faults.length) throw new Refusal(422, 'The company folder was not loaded.', faults);
	return files;
}

/** Loads a folder into an empty database; all or nothing. @returns what was assumed, where an earlier version wrote it */
export async function loadFolder(db: Knex, folder: string): Promise<Assumption[]> {
	const assumed: Assumption[] = [];
	await loadCompany(db, readCompany(readFolder(folder), assumed));
	return assumed;
}

/** Writes the company to a folder that is new or empty; it appears whole or not at all. */
export async function saveFolder(db: Knex, folder: string): Promise<number> {
	if (existsSync(folder) && readdirSync(folder).length)
		throw new Refusal(409, `${folder} is not empty. Name a new folder, so that nothing is overwritten.`);
	const files = writeCompany(await readStored(db));
	const making = `${folder}.writing`;
	rmSync(making, { recursive: true, force: true });
	writeFolder(making, files);
	rmSync(folder, { recursive: true, force: true });
	renameSync(making, folder);
	return files.size;
}

export function writeFolder(folder: string, files: ReadonlyMap<string, string>): void {
	for (const [path, content] of files) {
		const full = join(folder, path);
		mkdirSync(dirname(full), { recursive: true });
		writeFileSync(full, content);
	}
}
