/** Short words at the foot of the screen: what was done, or could not be. */
export interface Notice {
	id: number;
	text: string;
	bad: boolean;
	/** What may be done about it. */
	action?: { label: string; run: () => void };
}
class Notices {
	list: Notice[] = $state([]);
	#next = 0;
	say(text: string, bad = false, action?: Notice['action']) {
		const id = this.#next++;
		// The same words again take the place of the former.
		const others = this.list.filter((n) => n.text !== text || n.action || action);
		this.list = [...others.slice(-2), { id, text, bad, action }];
		setTimeout(() => this.drop(id), bad || action ? 15_000 : 7_000);
	}
	drop(id: number) {
		this.list = this.list.filter((n) => n.id !== id);
	}
}
export const notices = new Notices();
