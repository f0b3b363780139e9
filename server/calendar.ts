/** The calendar day of an instant in a time zone, as 2026-11-24. */
export const dayIn = (at: Date, timeZone: string): string =>
  new Intl.DateTimeFormat("en-CA", { dateStyle: "short", timeZone }).format(at);
