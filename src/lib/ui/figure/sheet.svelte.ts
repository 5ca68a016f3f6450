/** The side sheet: which figure is open, and the way back. */
import type { FigureRef } from '../../core/explain/trace';

export interface Opened {
	scenario: string;
	ref: FigureRef;
	/** What is shown of it first. */
	tab?: 'trace' | 'notes' | 'history';
}

class Sheet {
	stack: Opened[] = $state([]);
	get current(): Opened | undefined {
		return this.stack.at(-1);
	}
	/** Opens a figure from a page; what was open before is left. */
	open(opened: Opened) {
		this.stack = [opened];
	}
	/** Goes further into a figure that is open. */
	into(ref: FigureRef) {
		const scenario = this.current?.scenario;
		if (scenario) this.stack = [...this.stack, { scenario, ref }];
	}
	/** Opens the same figure anew, after something has been saved. */
	refresh() {
		const last = this.current;
		if (last) this.stack = [...this.stack.slice(0, -1), { ...last, tab: undefined }];
	}
	back() {
		this.stack = this.stack.slice(0, -1);
	}
	close() {
		this.stack = [];
	}
}
export const sheet = new Sheet();
