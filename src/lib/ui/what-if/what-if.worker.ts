/** Works a scenario's adjustments in a thread of the browser, on the same core as the server. */
import { expose } from 'comlink';
import type { Span } from '../../core/calendar/spans';
import type { Adjustment } from '../../core/inputs/adjust';
import type { DriverScope } from '../../core/analysis/driver';
import { packageFromBytes, unpackScenario } from '../../core/scenario/package';
import { measured, type Measure } from '../../core/analysis/measure';
import { WhatIf, type Uncertain } from '../../core/analysis/what-if';
import { whyItChanged } from '../../core/explain/why';

/** Hears how much of a long answer is done. */
export type Told = (done: number) => void;
/** After so many steps it is said how far the work is. */
const OFTEN = 50;

let held: WhatIf | null = null;

function own() {
	if (!held) throw new Error('No scenario is loaded.');
	return held;
}

const work = {
	load(parcel: ArrayBuffer): void {
		held = new WhatIf(packageFromBytes(parcel));
	},
	/** Drivers that can be moved. */
	drivers: () => own().drivers(),
	/** Works with these adjustments from here on. */
	adjust: (adjustments: Adjustment[]) => own().adjust(adjustments),
	effects: (measures: Measure[], span: Span) => own().effects(measures, span),
	seek: (code: string, step: number, measure: Measure, span: Span, goal: number) =>
		own().seek(code, step, measure, span, goal),
	tornado: (drivers: DriverScope[], share: number, measure: Measure, span: Span) =>
		own().tornado(drivers, share, measure, span),
	ranges: (
		uncertain: Uncertain[],
		measure: Measure,
		span: Span,
		chance: { trials: number; seed: number },
		told: Told
	) => own().ranges(uncertain, measure, span, chance, (done) => done % OFTEN === 0 && told(done)),
	/** Why a measure differs from what it is in another scenario, given as a parcel. */
	why(other: ArrayBuffer, measure: Measure, span: Span, told: Told) {
		const { structure, data } = own().current;
		const b = unpackScenario(packageFromBytes(other)).data;
		let done = 0;
		return whyItChanged(structure, data, b, (plan) => {
			if (++done % OFTEN === 0) told(done);
			return measured(plan, measure, span);
		});
	}
};
export type WhatIfWork = typeof work;
expose(work);
