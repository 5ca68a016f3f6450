/** Passwords: what one may be, and how it is kept. */
import { hash, verify } from '@node-rs/argon2';
import { z } from 'zod';

export const Password = z
	.string()
	.min(10, 'a password has at least 10 characters')
	.max(1024, 'a password has at most 1,024 characters');

/** argon2id with the library's defaults, which follow the OWASP recommendation. */
export const hashPassword = (password: string): Promise<string> => hash(password);
export const checkPassword = (stored: string, password: string): Promise<boolean> => verify(stored, password);
