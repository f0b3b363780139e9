import { createHash, randomBytes } from "node:crypto";

/** Secrets that open something by themselves: 256 random bits, of which only the hash is kept. */

export const newToken = (): string => randomBytes(32).toString("base64url");

/** Only the hash of a token is kept: who reads the table cannot use it. */
export const hashOf = (token: string): Buffer => createHash("sha256").update(token).digest();
