/** An owner decides for the firm, a technician works, a reader sees their own sites and changes nothing. */
export const ROLES = ["owner", "technician", "reader"] as const;
export type Role = (typeof ROLES)[number];
