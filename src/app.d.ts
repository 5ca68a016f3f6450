import type { TokenScope } from '$lib/server/platform/auth/tokens';
import type { User } from '$lib/server/platform/auth/sessions';

declare global {
	namespace App {
		interface Locals {
			user: User | null;
			/** By a program's access token, and what it may do. */
			token: { scope: TokenScope } | null;
			/** A page within the application asks for its figures anew. */
			within: boolean;
		}
		interface Error {
			message: string;
		}
	}
}

export {};
