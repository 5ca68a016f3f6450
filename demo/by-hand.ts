/** What tests of the demo's lists work out by hand from: its files, read without the application's own code. */
import { parse } from 'csv-parse/sync';
import { readFolder } from '../src/lib/server/transfer/folder';
import { DEMO } from '../tests/support/company';

const folder = readFolder(DEMO);
/** A row of a file, by its headings. */
export type Line = Record<string, string>;
export const table = (file: string): Line[] => parse(folder.get(file)!, { columns: true });

/** A month as `2027-04`; months are counted since the year 0. */
export const keyOf = (month: number) =>
	`${Math.floor(month / 12)}-${String((month % 12) + 1).padStart(2, '0')}`;
export const days = (month: number) =>
	new Date(Date.UTC(Math.floor(month / 12), (month % 12) + 1, 0)).getUTCDate();
