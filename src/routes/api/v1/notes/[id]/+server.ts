import { api, check } from '$lib/server/http';
import { removeNote } from '$lib/server/notes';
import { RecordId } from '$lib/server/schemas';

export const DELETE = api(({ db, user, event }) => removeNote(db, user, check(event.params.id, RecordId)));
