import { hash, verify } from '@node-rs/argon2';

/** argon2id with the library's defaults, which follow the OWASP recommendation. */
export const hashPassword = (password: string): Promise<string> => hash(password);
export const checkPassword = (stored: string, password: string): Promise<boolean> => verify(stored, password);
