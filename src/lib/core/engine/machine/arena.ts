/**
 * Where the numbers of a calculation lie. A large one lies in memory of its own that compiled loops work on; a
 * small one, or one for which there is no such memory, in plain arrays. Both give the same bits.
 */
import { VECTOR_BINARY } from './vector-binary';

/** A compiled loop: out, a and b each as byte offset and bytes between periods, then rows and periods. */
type Loop = (
	o: number,
	os: number,
	x: number,
	xs: number,
	y: number,
	ys: number,
	rows: number,
	periods: number
) => void;
/** Loops of one operation: both operands vary, the second is one for all rows, the first is. */
interface Loops {
	both: Loop;
	right: Loop;
	left: Loop;
}

export interface Arena {
	allocate(cells: number): Float64Array;
	/** Compiled loops for arrays of this arena; null in plain memory. */
	native: {
		buffer: ArrayBuffer;
		loops: Record<'+' | '-' | '*' | '/', Loops>;
		mayFail(y: number, ys: number, rows: number, periods: number): number;
	} | null;
}

/** Below so many cells, calls cost more than compiled loops save. */
const LARGE = 32_768;
const PAGE = 65_536;

let compiled: WebAssembly.Module | null | undefined;

function vectorModule(): WebAssembly.Module | null {
	if (compiled !== undefined) return compiled;
	try {
		const bytes = Uint8Array.from(atob(VECTOR_BINARY), (c) => c.charCodeAt(0));
		compiled = new WebAssembly.Module(bytes);
	} catch {
		// Not allowed, or not known, here.
		compiled = null;
	}
	return compiled;
}

/** Memory for so many cells in all; `kind` asks for one kind whatever the size. */
export function createArena(cells: number, kind?: 'plain' | 'native'): Arena {
	const module = kind === 'native' || (!kind && cells >= LARGE) ? vectorModule() : null;
	return (module && nativeArena(module, cells)) ?? { allocate: (n) => new Float64Array(n), native: null };
}

function nativeArena(module: WebAssembly.Module, cells: number): Arena | null {
	let memory: WebAssembly.Memory;
	try {
		const pages = Math.ceil((cells * 8) / PAGE) + 1;
		memory = new WebAssembly.Memory({ initial: pages, maximum: pages });
	} catch {
		return null;
	}
	const { exports } = new WebAssembly.Instance(module, { env: { memory } });
	const loop = (name: string) => exports[name] as unknown as Loop;
	const loops = (name: string, commutes: boolean): Loops => {
		const right = loop(`${name}XS`);
		const swapped: Loop = (o, os, x, xs, y, ys, rows, periods) => right(o, os, y, ys, x, xs, rows, periods);
		return { both: loop(`${name}XY`), right, left: commutes ? swapped : loop(`${name}SY`) };
	};
	// The first bytes are left free, as compiled code expects.
	let next = 1024;
	return {
		allocate(n) {
			const array = new Float64Array(memory.buffer, next, n);
			// Aligned to pairs.
			next += (n + (n & 1)) * 8;
			return array;
		},
		native: {
			buffer: memory.buffer,
			loops: {
				'+': loops('add', true),
				'-': loops('sub', false),
				'*': loops('mul', true),
				'/': loops('div', false)
			},
			mayFail: exports.mayFail as (y: number, ys: number, rows: number, periods: number) => number
		}
	};
}
