import { describe, expect, it } from 'vitest';
import { pathHere } from './after-sign-in';

describe('where to go after signing in', () => {
	it.each([
		['/plan?scenario=fy28-budget&from=2027-04', '/plan?scenario=fy28-budget&from=2027-04'],
		['/plan#row', '/plan#row'],
		['/a/../plan', '/plan'],
		['/plan?find=Büro', '/plan?find=B%C3%BCro'],
		['/\ud800', '/%EF%BF%BD']
	])('%s is a path of this application', (to, path) => expect(pathHere(to)).toBe(path));
	it.each([
		'//elsewhere.example',
		'/\t/elsewhere.example',
		'/\n//elsewhere.example',
		'/\\elsewhere.example',
		'/.//elsewhere.example',
		'https://elsewhere.example',
		'javascript:alert(1)',
		'plan',
		'',
		null,
		'/'.repeat(5000)
	])('%j is none', (to) => expect(pathHere(to)).toBe('/'));
});
