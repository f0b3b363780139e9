/** What keeps the water clean. */
export const SANITISERS = ["chlorine", "salt-cell", "bromine"] as const;
export type Sanitiser = (typeof SANITISERS)[number];

/**
 * The reading that tells how much of it is there.
 * @example sanitiserReading("salt-cell") // "freeChlorine"
 */
export const sanitiserReading = (sanitiser: Sanitiser): "freeChlorine" | "bromine" =>
  sanitiser === "bromine" ? "bromine" : "freeChlorine";
