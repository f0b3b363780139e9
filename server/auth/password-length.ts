/** Characters of a password; apart from the hashing, for pages that tell them. */
export const SHORTEST_PASSWORD = 12;
export const LONGEST_PASSWORD = 200;
