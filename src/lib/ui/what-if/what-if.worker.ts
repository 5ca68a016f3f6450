/** Works a scenario's adjustments in a thread of the browser, on the same core as the server. */
import type { Span } from '../../core/calendar/spans';
import type { Adjustment } from '../../core/inputs/adjust';
import type { DriverScope } from '../../core/analysis/driver';
import { packageFromJson, unpackScenario, type ScenarioPackage } from '../../core/scenario/package';
import { measured, WhatIf, type Measure, type Uncertain } from '../../core/analysis/what-if';
import { whyItChanged } from '../../core/explain/why';

export type WhatIfRequest = { id: number } & (
	| { kind: 'load'; parcel: string }
	| { kind: 'effects'; adjustments: Adjustment[]; measures: Measure[]; span: Span }
	| { kind: 'bridge'; adjustments: Adjustment[]; measure: Measure; span: Span }
	| { kind: 'seek'; code: string; step: number; measure: Measure; span: Span; goal: number }
	| { kind: 'tornado'; drivers: DriverScope[]; share: number; measure: Measure; span: Span }
	| { kind: 'ranges'; uncertain: Uncertain[]; measure: Measure; span: Span; trials: number; seed: number }
	| { kind: 'why'; other: string; measure: Measure; span: Span }
);
export type WhatIfAnswer = { id: number } & (
	| { result: unknown }
	| { failed: string }
	/** How much of a long answer is done. */
	| { done: number }
);

const tell = (id: number, done: number) => self.postMessage({ id, done } satisfies WhatIfAnswer);

let whatIf: WhatIf | null = null;
let own: ScenarioPackage | null = null;

function work(request: WhatIfRequest): unknown {
	if (request.kind === 'load') {
		own = packageFromJson(request.parcel);
		whatIf = new WhatIf(own);
		return { drivers: whatIf.drivers() };
	}
	if (!whatIf || !own) throw new Error('No scenario is loaded.');
	switch (request.kind) {
		case 'effects':
			whatIf.adjust(request.adjustments);
			return whatIf.effects(request.measures, request.span);
		case 'bridge':
			whatIf.adjust(request.adjustments);
			return whatIf.bridge(request.measure, request.span);
		case 'seek':
			return whatIf.seek(request.code, request.step, request.measure, request.span, request.goal);
		case 'tornado':
			return whatIf.tornado(request.drivers, request.share, request.measure, request.span);
		case 'ranges':
			return whatIf.ranges(request.uncertain, request.measure, request.span, request, (done) => {
				if (done % 50 === 0) tell(request.id, done);
			});
		case 'why': {
			const { structure, data } = unpackScenario(own);
			const b = unpackScenario(packageFromJson(request.other)).data;
			let done = 0;
			return whyItChanged(structure, data, b, (plan) => {
				if (++done % 50 === 0) tell(request.id, done);
				return measured(plan, request.measure, request.span);
			});
		}
	}
}

self.onmessage = ({ data }: MessageEvent<WhatIfRequest>) => {
	try {
		self.postMessage({ id: data.id, result: work(data) } satisfies WhatIfAnswer);
	} catch (e) {
		self.postMessage({
			id: data.id,
			failed: e instanceof Error ? e.message : String(e)
		} satisfies WhatIfAnswer);
	}
};
