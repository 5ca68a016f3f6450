import { api } from '$lib/server/doors/http';
import { check } from '$lib/server/platform/check';
import { removeNote } from '$lib/server/changes/notes';
import { RecordId } from '$lib/server/platform/schemas';

export const DELETE = api(({ context, event }) => removeNote(context, check(event.params.id, RecordId)));
