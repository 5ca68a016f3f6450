import { api } from '$lib/server/http';
import { removeNote } from '$lib/server/notes';

export const DELETE = api(({ db, user, event }) => removeNote(db, user, Number(event.params.id)));
