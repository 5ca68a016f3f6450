/** A plan as it would be with what is typed and not saved yet: the server works it out and keeps nothing. */
import type { MoneyView } from '../../core/currency/view';
import type { Calendar } from '../../core/calendar/calendar';
import type { TypedCell, Written } from '../../core/inputs/cell';
import type { PlanRow } from '../../core/views/plan-rows';
import { post } from '../kit/api';
import { Newest } from '../kit/newest';
import { partKey } from './rows';

/** What is shown of a department: some accounts, or all. */
export interface Shown {
	department: string;
	accounts: string[] | null;
}
const NOTHING: ReadonlyMap<string, PlanRow> = new Map();

export class PlanPreview {
	/** Rows that are other than what is saved, by account and department. */
	rows: ReadonlyMap<string, PlanRow> = $state.raw(NOTHING);
	/** Whether they are worked out with all that is typed now. */
	current = $state(true);
	readonly #newest = new Newest();
	#wanted = 0;
	#window = '';

	constructor(private readonly calendar: Calendar) {}

	/** @param window of the company's periods; cells are in the plan's, as these are written */
	show(
		window: { scenario: string; from: number; to: number; money: MoneyView },
		edits: readonly Written<TypedCell>[],
		shown: Shown[]
	): void {
		const { key } = this.calendar;
		const wanted = ++this.#wanted;
		// Figures of other months would stand under the wrong names.
		if (this.#window !== JSON.stringify(window)) this.rows = NOTHING;
		this.#window = JSON.stringify(window);
		if (!edits.length) {
			this.#newest.drop();
			this.rows = NOTHING;
			this.current = true;
			return;
		}
		this.current = false;
		this.#newest.run(async () => {
			let found = NOTHING;
			try {
				const { rows } = await post<{ rows: PlanRow[] }>('plan/preview', {
					...window,
					from: key(window.from),
					to: key(window.to),
					edits,
					shown
				});
				found = new Map(rows.map((r) => [partKey(r.account, r.department), r]));
			} catch {
				// Without it the saved figures stand; what cannot be saved is said then.
			}
			if (wanted !== this.#wanted) return;
			this.rows = found;
			this.current = found !== NOTHING;
		});
	}
}
