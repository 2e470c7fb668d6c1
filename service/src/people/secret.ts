import { createHash, randomBytes } from 'node:crypto';

/** A new key of 256 random bits, so that a plain hash hides it as well as a slow one would. */
export const newSecret = (): string => randomBytes(32).toString('base64url');

/** The SHA-256 of a secret of 256 random bits, in hexadecimal: so long a secret needs no slow hash. */
export const hashOfSecret = (secret: string): string => createHash('sha256').update(secret).digest('hex');
