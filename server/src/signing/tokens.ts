import { createHash, randomBytes } from 'node:crypto';

/** A secret that stands for a device or a link: 256 bits, in 43 signs that an address bears. */
export const newToken = (): string => randomBytes(32).toString('base64url');

/** What of a token is kept: too much to be guessed, it needs no slow hash. */
export const tokenHash = (token: string): Buffer => createHash('sha256').update(token).digest();
