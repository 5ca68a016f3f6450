import type { User } from '$lib/server/platform/auth/sessions';

declare global {
	namespace App {
		interface Locals {
			user: User | null;
			/** A page within the application asks for its figures anew. */
			within: boolean;
		}
		interface Error {
			message: string;
		}
	}
}

export {};
