/** ISO weekday (1 Monday … 7 Sunday) of an instant in a time zone. */
export function isoWeekday(at: Date, timeZone: string): number {
  const name = new Intl.DateTimeFormat("en-US", { weekday: "short", timeZone }).format(at);
  return ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"].indexOf(name) + 1;
}

/** The calendar day of an instant in a time zone, as 2026-11-24. */
export const dayIn = (at: Date, timeZone: string): string =>
  new Intl.DateTimeFormat("en-CA", { dateStyle: "short", timeZone }).format(at);
