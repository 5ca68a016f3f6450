/** A scenario as one parcel that can be sent to where it is calculated: a worker of the server or of the browser. */
import { calendarOf } from '../calendar/calendar-of';
import type { AnyCalendarSpec } from '../calendar/spec';
import type { Account, Department, Dimension, Entity } from '../company/schema';
import type { ScenarioData } from './data';
import { buildStructure, type Structure } from '../company/structure';

/** Plain data, maps and typed arrays: it can be cloned between threads as it is, or sent as bytes. */
export interface ScenarioPackage {
	calendar: AnyCalendarSpec;
	currency: string;
	accounts: readonly Account[];
	departments: readonly Department[];
	entities: readonly Entity[];
	dimensions: readonly Dimension[];
	data: ScenarioData;
}

export function packScenario(structure: Structure, data: ScenarioData): ScenarioPackage {
	return {
		calendar: structure.calendar.spec,
		currency: structure.currency,
		accounts: structure.accounts.all,
		departments: structure.departments.all,
		entities: structure.entities,
		dimensions: [...structure.dimensions.values()].map((d) => d.dimension),
		data
	};
}

export function unpackScenario(parcel: ScenarioPackage): { structure: Structure; data: ScenarioData } {
	const { calendar, currency, accounts, departments, entities, dimensions, data } = parcel;
	return {
		structure: buildStructure(calendarOf(calendar), accounts, departments, dimensions, currency, entities),
		data
	};
}

/** Bytes before the numbers: how many doubles there are, and how many bytes. */
const HEAD = 8;

/**
 * As bytes: two whole numbers of 32 bits that say how many doubles and how many bytes follow, those doubles and bytes one
 * behind the other, and JSON for all else, which says where its numbers stand. Little endian, as every machine is that
 * a browser runs on. Numbers are most of a scenario; so they are copied, and nothing of them is written out or read.
 */
export function packageToBytes(parcel: ScenarioPackage): ArrayBuffer {
	const doubles = new Pool<Float64Array>();
	const bytes = new Pool<Uint8Array>();
	/** Maps and typed arrays by name. */
	function plain(value: unknown): unknown {
		if (typeof value !== 'object' || value === null) return value;
		if (value instanceof Float64Array) return { $doubles: doubles.take(value) };
		if (value instanceof Uint8Array) return { $bytes: bytes.take(value) };
		if (value instanceof Map) return { $map: plain([...value]) };
		if (Array.isArray(value)) return value.map(plain);
		const own: Record<string, unknown> = {};
		for (const key of Object.keys(value)) own[key] = plain((value as Record<string, unknown>)[key]);
		return own;
	}
	const text = new TextEncoder().encode(JSON.stringify(plain(parcel)));
	const bytesFrom = HEAD + doubles.length * Float64Array.BYTES_PER_ELEMENT;
	const whole = new Uint8Array(bytesFrom + bytes.length + text.length);
	new Uint32Array(whole.buffer, 0, 2).set([doubles.length, bytes.length]);
	doubles.fill(new Float64Array(whole.buffer, HEAD, doubles.length));
	bytes.fill(whole.subarray(bytesFrom));
	whole.set(text, bytesFrom + bytes.length);
	return whole.buffer;
}

/** Arrays one behind the other. */
class Pool<A extends Float64Array | Uint8Array> {
	length = 0;
	readonly #arrays: A[] = [];
	/** @returns where the array will stand, and how long it is */
	take(array: A): [number, number] {
		const at = this.length;
		this.#arrays.push(array);
		this.length += array.length;
		return [at, array.length];
	}
	fill(into: A): void {
		let at = 0;
		for (const array of this.#arrays) {
			into.set(array, at);
			at += array.length;
		}
	}
}

/** Every array is one of its own: changing it changes no other, nor the bytes. */
export function packageFromBytes(whole: ArrayBuffer): ScenarioPackage {
	const [doubles, bytes] = new Uint32Array(whole, 0, 2);
	const bytesFrom = HEAD + doubles * Float64Array.BYTES_PER_ELEMENT;
	const numbers = new Float64Array(whole, HEAD, doubles);
	const marks = new Uint8Array(whole, bytesFrom, bytes);
	const taken = <A extends Float64Array | Uint8Array>(from: A, place: unknown): A => {
		const [at, length] = place as [number, number];
		return from.slice(at, at + length) as A;
	};
	function typed(value: unknown): unknown {
		if (typeof value !== 'object' || value === null) return value;
		if (Array.isArray(value)) return value.map(typed);
		if ('$doubles' in value) return taken(numbers, value.$doubles);
		if ('$bytes' in value) return taken(marks, value.$bytes);
		if ('$map' in value) return new Map(typed(value.$map) as [unknown, unknown][]);
		// Read a moment ago and seen by nobody else: it can be filled where it is.
		const own = value as Record<string, unknown>;
		for (const key of Object.keys(own)) own[key] = typed(own[key]);
		return own;
	}
	const text = new TextDecoder().decode(new Uint8Array(whole, bytesFrom + bytes));
	return typed(JSON.parse(text)) as ScenarioPackage;
}
