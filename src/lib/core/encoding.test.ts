import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { decodeText } from './encoding';

const bytes = (text: string, encoding: BufferEncoding) => new Uint8Array(Buffer.from(text, encoding));

describe('a text file', () => {
	it('is recognised in the encodings that ledgers export in', () => {
		const text = 'Datum;Büro;Zürich\n';
		expect(decodeText(bytes(text, 'utf8'))).toEqual({ content: text, encoding: 'UTF-8' });
		expect(decodeText(bytes(`\ufeff${text}`, 'utf8'))!.content).toBe(text);
		expect(decodeText(bytes(`\ufeff${text}`, 'utf16le'))).toEqual({ content: text, encoding: 'UTF-16' });
		const big = bytes(`\ufeff${text}`, 'utf16le');
		for (let i = 0; i < big.length; i += 2) big.set([big[i + 1], big[i]], i);
		expect(decodeText(big)).toEqual({ content: text, encoding: 'UTF-16' });
		expect(decodeText(bytes(text, 'latin1'))).toEqual({ content: text, encoding: 'Windows Western (1252)' });
		expect(decodeText(Uint8Array.of(0x80, 0x31, 0x93, 0x9f))!.content).toBe('€1“Ÿ');
	});
	it('is refused rather than read with characters that it does not hold', () => {
		expect(decodeText(Uint8Array.of(0x50, 0x4b, 3, 4, 0, 0))).toBeNull();
		expect(decodeText(Uint8Array.of(0x41, 0x81, 0x42))).toBeNull();
		expect(decodeText(Uint8Array.of(0xff, 0xfe, 0x00, 0xd8))).toBeNull();
		expect(decodeText(Uint8Array.of(0x41, 0xe9, 0x07))).toBeNull();
		fc.assert(
			fc.property(fc.uint8Array({ maxLength: 60 }), (list) => {
				expect(decodeText(list)?.content ?? '').not.toMatch(/\ufffd/);
			})
		);
	});
});
