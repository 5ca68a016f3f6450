import { api, check } from '$lib/server/doors/http';
import { removeNote } from '$lib/server/changes/notes';
import { RecordId } from '$lib/server/platform/schemas';

export const DELETE = api(({ db, user, event }) => removeNote(db, user, check(event.params.id, RecordId)));
