/** What a request works with: who asks, and the database or transaction that answers. Every subject's functions take it. */
import type { Knex } from 'knex';
import type { User } from './auth/sessions';

export interface Context<D extends Knex = Knex> {
	readonly db: D;
	readonly user: User;
}
/** Within a transaction: what is done with it is done as a whole or not at all. */
export type Within = Context<Knex.Transaction>;

/** Works for the same user within one transaction; what throws undoes all of it. */
export const asOne = <T>({ db, user }: Context, work: (within: Within) => Promise<T>): Promise<T> =>
	db.transaction((trx) => work({ db: trx, user }));
