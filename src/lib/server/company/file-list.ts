/** The list of files of a company folder, for its documentation. */
import type { FileForm, TableForm } from './form';
import { SUBJECTS } from './subjects';

/** A table in Markdown: each sort of file with its headings and what is said of them. */
export function fileList(): string {
	const files: FileForm[] = SUBJECTS.flatMap((s) => [...s.files]);
	const rows = files.map((f) => `| \`${f.path}\`${f.needed ? ', has to be there' : ''} | ${words(f)} |`);
	return ['| file | columns or content |', '|---|---|', ...rows].join('\n');
}

function words(form: FileForm | TableForm): string {
	if (!('columns' in form)) return form.says ?? '';
	const headings = Object.keys(form.columns).map((h) => {
		const notes = [form.notes?.[h], form.later?.[h] ? 'may be missing' : undefined].filter(Boolean);
		return `\`${h}\`${notes.length ? ` (${notes.join('; ')})` : ''}`;
	});
	const columns = headings.join(', ');
	return [columns, form.says].filter(Boolean).join('; ');
}

const FROM = '<!-- files: npm run docs:files -->\n\n';
const TO = '\n\n<!-- /files -->';

/** A page of the documentation with the list as it is today. @throws Error for a page without a place for it */
export function withFileList(page: string): string {
	const from = page.indexOf(FROM);
	const to = page.indexOf(TO);
	if (from < 0 || to < from) throw new Error('The page has no place for the list of files.');
	return page.slice(0, from + FROM.length) + fileList() + page.slice(to);
}
