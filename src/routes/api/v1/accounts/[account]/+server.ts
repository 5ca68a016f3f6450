import { api, takes } from '$lib/server/doors/http';
import { AccountChange, changeAccount, removeAccount } from '$lib/server/setup/chart';

/** Changes an account, or shows what of its figures that would move. */
export const PATCH = takes({ may: 'change accounts', body: AccountChange }, ({ context, event, input }) =>
	changeAccount(context, event.params.account!, input)
);

export const DELETE = api(({ context, event }) => removeAccount(context, event.params.account!));
