import { readStored } from "../use-stored";

/** Keys that foot switches, page turners and button rings type; each counts a drop. */
const USUAL = [" ", "Enter", "PageDown", "PageUp", "ArrowDown", "ArrowRight"] as const;

/** Where a key is kept that this device's switch types and that is none of the usual ones. */
export const OWN_KEY = "pelagon.drop-key";

/** A handler under every key that counts a drop. */
export function dropKeys(drop: () => void): Record<string, () => void> {
  const own = typeof localStorage === "undefined" ? null : readStored(OWN_KEY);
  const keys: string[] = [...USUAL];
  if (typeof own === "string" && own) keys.push(own.length === 1 ? own.toLowerCase() : own);
  return Object.fromEntries(keys.map((key) => [key, drop]));
}
