/** What a model's lines come to in a form that is not saved yet. */
import type { ModelDefinition } from '../../../core/blocks/driver-model/schema';
import type { ModelFigures, ModelQuery } from '../../../core/views/model-view';
import { Newest } from '../../kit/newest';
import { previewThread } from '../preview-thread';

export class DesignPreview {
	figures: ModelFigures | null = $state.raw(null);
	/** Why it cannot be calculated; empty when it can. */
	problem = $state('');

	readonly #thread = previewThread();
	readonly #newest = new Newest();

	/** @param version changes whenever what is saved may have changed */
	show(scenario: string, version: unknown, definition: ModelDefinition, query: ModelQuery): void {
		this.#newest.run(async () => {
			try {
				this.figures = await this.#thread.ask({ scenario }, version, (work) =>
					work.designed(definition, query)
				);
				this.problem = '';
			} catch (e) {
				this.problem = e instanceof Error ? e.message : String(e);
			}
		});
	}
	/** Nothing is shown while the form has mistakes. */
	clear(): void {
		this.#newest.drop();
		this.figures = null;
		this.problem = '';
	}
	close(): void {
		this.#thread.close();
	}
}
