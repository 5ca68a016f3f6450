/** What people can be, in words. */
export type Role = 'analyst' | 'contributor' | 'reviewer' | 'viewer';
export type PersonState = 'new' | 'invited' | 'active' | 'disabled';

export const ROLES: readonly { value: Role; name: string; says: string }[] = [
	{
		value: 'contributor',
		name: 'Contributor',
		says: 'Plans the figures of these departments and submits them.'
	},
	{ value: 'reviewer', name: 'Reviewer', says: 'Reads, questions, returns and approves what they submit.' },
	{ value: 'viewer', name: 'Viewer', says: 'Reads their figures and changes nothing.' },
	{ value: 'analyst', name: 'Analyst', says: 'Sets up everything, and sees all departments.' }
];
/** What somebody is sent to choose a password with. */
export interface Invitation {
	link: string;
	/** An ISO time. */
	until: string;
	failure: string | null;
	waits: boolean;
}
export const STATES: Record<PersonState, string> = {
	new: 'not invited yet',
	invited: 'invited',
	active: 'signs in',
	disabled: 'disabled'
};
