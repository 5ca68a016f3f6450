import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import type { Refusal } from '../platform/refusal';
import { packed, unpacked } from './archive';

const bytes = (files: Record<string, string>) =>
	zipSync(Object.fromEntries(Object.entries(files).map(([path, text]) => [path, strToU8(text)])));
const refused = (zip: Uint8Array) => {
	try {
		unpacked('c.zip', zip);
	} catch (e) {
		return e as Refusal;
	}
	throw new Error('It was taken.');
};

describe('a company folder as a zip', () => {
	it('comes out as it went in', async () => {
		const files = new Map([
			['company.json', '{"name":"Zoë"}'],
			['ledger/2026-10.csv', 'date,amount\n'],
			['empty.csv', '']
		]);
		expect(unpacked('c.zip', await packed(files))).toEqual(files);
	});
	it('may be of the folder itself, and holds what others put beside', () => {
		const zip = bytes({
			'mine/company.json': '{}',
			'mine/users.csv': 'a',
			'mine/notes.txt': 'x',
			'mine/.hidden.csv': 'x',
			'__MACOSX/mine/users.csv': 'x'
		});
		expect([...unpacked('c.zip', zip)]).toEqual([
			['company.json', '{}'],
			['users.csv', 'a']
		]);
	});
	it.each(['../users.csv', 'a/../../users.csv', '/etc/users.csv', 'C:/users.csv', '..\\users.csv'])(
		'is refused with a path outside: %s',
		(path) => {
			const { status, faults } = refused(bytes({ 'company.json': '{}', [path]: 'x' }));
			expect([status, faults]).toEqual([422, [{ file: path, message: expect.stringMatching(/leads out/) }]]);
		}
	);
	it('is refused when it would unpack to ten gigabytes, before anything is', () => {
		const zip = bytes({ 'company.json': '{}', 'users.csv': 'x'.repeat(1000) });
		// What a file comes to stands in the directory at the end (4.3.12): here, ten gigabytes' worth.
		const view = new DataView(zip.buffer, zip.byteOffset, zip.byteLength);
		for (let at = 0; at + 46 < zip.length; at++)
			if (view.getUint32(at, true) === 0x02014b50) view.setUint32(at + 24, 0xfffffff0, true);
		expect(refused(zip)).toMatchObject({ status: 413, message: expect.stringMatching(/512 MB/) });
	});
	it('gives no more than it says, where it says too little', () => {
		const zip = bytes({ 'company.json': '{}', 'users.csv': 'x'.repeat(100_000) });
		const view = new DataView(zip.buffer, zip.byteOffset, zip.byteLength);
		for (let at = 0; at + 46 < zip.length; at++)
			if (view.getUint32(at, true) === 0x02014b50 && view.getUint32(at + 24, true) === 100_000)
				view.setUint32(at + 24, 10, true);
		let text = '';
		try {
			text = unpacked('c.zip', zip).get('users.csv')!;
		} catch (e) {
			expect((e as Refusal).status).toBe(422);
		}
		expect(text.length).toBeLessThanOrEqual(100);
	});
	it.each([
		['no zip', strToU8('company'), /no zip/],
		['without a company', bytes({ 'users.csv': 'a' }), /no company\.json/],
		['not in UTF-8', zipSync({ 'company.json': new Uint8Array([0xff, 0xfe, 0x41]) }), /was not taken/]
	])('is refused: %s', (_name, zip, message) => {
		expect(refused(zip).message).toMatch(message);
	});
});
