/** How one gets in at a site: for those who work there, and for nobody else. */

export const ACCESS_FIELDS = ["hours", "person", "phone", "code", "key", "alarm", "dog", "parking"] as const;
export type AccessField = (typeof ACCESS_FIELDS)[number];

/** As people say it; what nobody needs to know is left out. */
export type SiteAccess = Partial<Record<AccessField, string>>;

/** @example isEmptyAccess({}) // true */
export const isEmptyAccess = (access: SiteAccess): boolean =>
  ACCESS_FIELDS.every((field) => !access[field]?.trim());
