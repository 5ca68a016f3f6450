/** One of several controls in a row or a column can be reached by Tab; the arrow keys lead from one to the next. */
import type { Attachment } from 'svelte/attachments';

const STEPS: Record<string, number> = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 };

/**
 * Arrow keys, Home and End among the controls that `selector` finds in the element, in their order; those at the ends
 * lead round. `onreach` is told which one has the focus now, to choose it at once where that is the custom (tabs).
 */
export function roving(selector: string, onreach?: (control: HTMLElement) => void): Attachment<HTMLElement> {
	return (element) => {
		function keydown(event: KeyboardEvent) {
			if (event.altKey || event.ctrlKey || event.metaKey) return;
			const controls = [...element.querySelectorAll<HTMLElement>(selector)].filter(
				(c) => !(c as HTMLButtonElement).disabled
			);
			const at = controls.indexOf(document.activeElement as HTMLElement);
			if (at < 0) return;
			const step = STEPS[event.key];
			const to =
				event.key === 'Home'
					? 0
					: event.key === 'End'
						? controls.length - 1
						: step
							? (at + step + controls.length) % controls.length
							: -1;
			if (to < 0) return;
			event.preventDefault();
			event.stopPropagation();
			controls[to].focus();
			onreach?.(controls[to]);
		}
		element.addEventListener('keydown', keydown);
		return () => element.removeEventListener('keydown', keydown);
	};
}
