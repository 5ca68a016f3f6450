import type { User } from '$lib/server/auth/sessions';

declare global {
	namespace App {
		interface Locals {
			user: User | null;
		}
		interface Error {
			message: string;
		}
	}
}

export {};
