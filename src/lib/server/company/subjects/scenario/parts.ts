/** Of what a scenario consists. A part is read after those before it, which it may ask for. */
import type { Held } from '../../holding';
import { ADJUSTMENTS } from './adjustments';
import { BASES } from './bases';
import { FORM_PARTS } from './block-forms';
import { ATTACHMENTS, ITEMS, NOTES } from './notes';
import { VALUES } from './values';

export const PARTS = [...FORM_PARTS, VALUES, BASES, ADJUSTMENTS, NOTES, ITEMS, ATTACHMENTS] as const;

export type ScenarioParts = Held<typeof PARTS>;
