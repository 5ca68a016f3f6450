/** A scenario as one parcel that can be sent to where it is calculated: a worker of the server or of the browser. */
import { calendarOf } from '../calendar/calendar-of';
import type { AnyCalendarSpec } from '../calendar/spec';
import type { Account, Department, Dimension } from '../company/schema';
import type { ScenarioData } from './data';
import { buildStructure, type Structure } from '../company/structure';

/** Plain data, maps and typed arrays: it can be cloned between threads as it is, or written as JSON. */
export interface ScenarioPackage {
	calendar: AnyCalendarSpec;
	currency: string;
	accounts: readonly Account[];
	departments: readonly Department[];
	dimensions: readonly Dimension[];
	data: ScenarioData;
}

export function packScenario(structure: Structure, data: ScenarioData): ScenarioPackage {
	return {
		calendar: structure.calendar.spec,
		currency: structure.currency,
		accounts: structure.accounts.all,
		departments: structure.departments.all,
		dimensions: [...structure.dimensions.values()].map((d) => d.dimension),
		data
	};
}

export function unpackScenario(parcel: ScenarioPackage): { structure: Structure; data: ScenarioData } {
	const { calendar, currency, accounts, departments, dimensions, data } = parcel;
	return {
		structure: buildStructure(calendarOf(calendar), accounts, departments, dimensions, currency),
		data
	};
}

/** As JSON: doubles are written so that they are read back to the last bit; NaN, which stands for a blank, is null. */
export function packageToJson(parcel: ScenarioPackage): string {
	return JSON.stringify(plain(parcel));
}
export function packageFromJson(text: string): ScenarioPackage {
	return typed(JSON.parse(text)) as ScenarioPackage;
}

/** Maps and typed arrays by name. Both ways walk objects, not numbers: those are most of it. */
function plain(value: unknown): unknown {
	if (typeof value !== 'object' || value === null) return value;
	if (value instanceof Float64Array) return { $doubles: Array.from(value) };
	if (value instanceof Uint8Array) return { $bytes: Array.from(value) };
	if (value instanceof Map) return { $map: plain([...value]) };
	if (Array.isArray(value)) return value.map(plain);
	return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, plain(v)]));
}
function typed(value: unknown): unknown {
	if (typeof value !== 'object' || value === null) return value;
	if (Array.isArray(value)) return value.map(typed);
	if ('$doubles' in value) return Float64Array.from(value.$doubles as (number | null)[], (v) => v ?? NaN);
	if ('$bytes' in value) return Uint8Array.from(value.$bytes as number[]);
	if ('$map' in value) return new Map(typed(value.$map) as [unknown, unknown][]);
	return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, typed(v)]));
}
