/** How the user reads and writes: chosen once, kept on the server. The frame sets it before anything is drawn. */
export interface UserStyle {
	decimal: '.' | ',';
	negative: 'minus' | 'brackets';
	density: 'roomy' | 'dense';
}
export const userStyle: UserStyle = $state({ decimal: '.', negative: 'minus', density: 'roomy' });
