import { createCipheriv, createDecipheriv, createHash, randomBytes } from "node:crypto";

/** Secrets that have to be told on, such as the password of a mail server: AES-256-GCM under a key of the environment. */

const NONCE = 12;
const TAG = 16;

/** @param secret of any length; its hash is the key */
const keyOf = (secret: string): Buffer => createHash("sha256").update(secret).digest();

/** Nonce, tag and what is sealed, one after the other. */
export function seal(text: string, secret: string): Buffer {
  const nonce = randomBytes(NONCE);
  const cipher = createCipheriv("aes-256-gcm", keyOf(secret), nonce);
  const sealed = Buffer.concat([cipher.update(text, "utf8"), cipher.final()]);
  return Buffer.concat([nonce, cipher.getAuthTag(), sealed]);
}

/** What was sealed, or null where it was under another key. */
export function unseal(sealed: Buffer, secret: string): string | null {
  try {
    const decipher = createDecipheriv("aes-256-gcm", keyOf(secret), sealed.subarray(0, NONCE));
    decipher.setAuthTag(sealed.subarray(NONCE, NONCE + TAG));
    return decipher.update(sealed.subarray(NONCE + TAG), undefined, "utf8") + decipher.final("utf8");
  } catch {
    return null;
  }
}
