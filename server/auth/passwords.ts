import { hash, verify } from "@node-rs/argon2";

// OWASP's argon2id setting for interactive sign-in: 19 MiB, two passes, one lane.
const ARGON2ID = 2;
const SETTING = { algorithm: ARGON2ID, memoryCost: 19_456, timeCost: 2, parallelism: 1 };

export const hashPassword = (password: string): Promise<string> => hash(password, SETTING);

/** A hash nobody's password has; checking against it makes an unknown address cost as much as a known one. */
let nobody: Promise<string> | undefined;

/** Whether the password is the one behind the hash. Without a hash it takes as long and says no. */
export async function passwordMatches(stored: string | undefined, password: string): Promise<boolean> {
  nobody ??= hashPassword(crypto.randomUUID());
  const matches = await verify(stored ?? (await nobody), password);
  return stored !== undefined && matches;
}
