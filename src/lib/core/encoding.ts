/** Text in files of other systems: its encoding is recognised or refused, never guessed at the cost of characters. */

export interface DecodedText {
	content: string;
	/** As people know it. */
	encoding: 'UTF-8' | 'UTF-16' | 'Windows Western (1252)';
}

/**
 * What the Windows Western code page has from 0x80 to 0x9f (WHATWG Encoding, index windows-1252); a space where it has
 * nothing. Decoders of some Node releases take the code page for Latin-1, which has control characters there.
 */
const WESTERN = '€ ‚ƒ„…†‡ˆ‰Š‹Œ Ž  ‘’“”•–—˜™š›œ žŸ';
const western = (byte: number): string =>
	byte < 0x80 || byte > 0x9f ? String.fromCharCode(byte) : WESTERN[byte - 0x80];
const isUnassigned = (byte: number) => western(byte) === ' ' && byte !== 0x20;
const isControl = (byte: number) => byte < 0x20 && byte !== 0x09 && byte !== 0x0a && byte !== 0x0d;

/**
 * UTF-8; UTF-16 by its byte order mark (RFC 2781); else the Windows Western code page, in which older ledgers export, when
 * every byte is a character of it.
 * @returns null for what is none of these
 */
export function decodeText(bytes: Uint8Array): DecodedText | null {
	const mark =
		bytes[0] === 0xff && bytes[1] === 0xfe ? 'le' : bytes[0] === 0xfe && bytes[1] === 0xff ? 'be' : null;
	if (mark) {
		const content = strictly(`utf-16${mark}`, bytes);
		return content === null ? null : { content, encoding: 'UTF-16' };
	}
	if (bytes.includes(0)) return null;
	const content = strictly('utf-8', bytes);
	if (content !== null) return { content, encoding: 'UTF-8' };
	if (bytes.some((b) => isUnassigned(b) || isControl(b))) return null;
	return {
		content: latin1(bytes).replace(/[\u0080-\u009f]/g, (c) => western(c.charCodeAt(0))),
		encoding: 'Windows Western (1252)'
	};
}

/** Each byte as the character of its number. */
function latin1(bytes: Uint8Array): string {
	let text = '';
	// So many arguments does any engine take.
	for (let at = 0; at < bytes.length; at += 8192)
		text += String.fromCharCode(...bytes.subarray(at, at + 8192));
	return text;
}

function strictly(encoding: string, bytes: Uint8Array): string | null {
	try {
		return new TextDecoder(encoding, { fatal: true }).decode(bytes);
	} catch {
		return null;
	}
}

/** Whether a file is a zip, as workbooks are (PKWARE APPNOTE 6.3). */
export const isZip = (bytes: Uint8Array): boolean =>
	bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3 && bytes[3] === 4;
