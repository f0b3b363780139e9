/** Formatters are dear to make; there is one for each time zone that is asked for. */
const formatters = new Map<string, Intl.DateTimeFormat>();

/** The calendar day of an instant in a time zone, as 2026-11-24. */
export function dayIn(at: Date, timeZone: string): string {
  let formatter = formatters.get(timeZone);
  if (!formatter) {
    formatter = new Intl.DateTimeFormat("en-CA", { dateStyle: "short", timeZone });
    formatters.set(timeZone, formatter);
  }
  return formatter.format(at);
}
