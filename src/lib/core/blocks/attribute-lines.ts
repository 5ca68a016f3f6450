/** Attributes of the members that a block's rows stand at, as columns of the block. */
import { attributeNumber, attributeOf, attributeQuantity } from '../company/attributes';
import type { Structure } from '../company/structure';
import type { Shape } from '../engine/align';
import { attributeColumn, type LineSpec } from '../engine/spec';
import { textCode } from '../engine/texts';
import { newColumn } from '../engine/values';
import { walk, type Expr } from '../formula/ast';

/** Collects what formulas of a block name as `dimension.attribute`. */
export class AttributeLines {
	private readonly found = new Map<string, LineSpec>();

	constructor(
		private readonly shape: Shape,
		private readonly structure: Structure
	) {}

	/** Notes the attributes that a formula reads. */
	read(expr: Expr): void {
		walk(expr, (e) => {
			if (e.kind !== 'reference' || e.block === null) return;
			const code = attributeColumn(e.block, e.line);
			if (this.found.has(code) || !this.structure.dimensions.has(e.block)) return;
			const line = this.line(code, e.block, e.line);
			if (line) this.found.set(code, line);
		});
	}

	get lines(): LineSpec[] {
		return [...this.found.values()];
	}

	private line(code: string, dimension: string, attribute: string): LineSpec | null {
		const place = this.shape.dimensions.indexOf(dimension);
		if (place < 0) return null;
		const { dimension: own, members } = this.structure.dimensions.get(dimension)!;
		const quantity = attributeQuantity(own, attribute);
		const values = this.shape.rows.map((row) =>
			attributeNumber(quantity, attributeOf(members, row[place], attribute), textCode)
		);
		return { code, additive: false, seed: newColumn(values) };
	}
}
