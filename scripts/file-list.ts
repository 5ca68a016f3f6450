/** Writes the list of files into the documentation of the company folder. */
import { readFileSync, writeFileSync } from 'node:fs';
import { withFileList } from '../src/lib/server/company/file-list';

const page = 'docs/company-folder.md';
writeFileSync(page, withFileList(readFileSync(page, 'utf8')));
