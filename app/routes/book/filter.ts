import type { BookFilter, BookPlace } from "#server/db/book";

/** The book's filter and place as they stand in the address. */

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/i;
const DAY = /^(19|20)\d\d-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/;
const CODE = /^[a-zA-Z]{1,40}\.(low|high)$/;

/** What an address asks for; what it asks that makes no sense is left out. */
export function filterFrom(asked: URLSearchParams): BookFilter {
  const matching = (name: string, pattern: RegExp) => {
    const value = asked.get(name) ?? "";
    return pattern.test(value) ? value : null;
  };
  return {
    text: (asked.get("q") ?? "").trim().slice(0, 80),
    basinId: matching("basin", UUID),
    memberId: matching("member", UUID),
    finding: matching("finding", CODE),
    from: dayOrNull(matching("from", DAY)),
    to: dayOrNull(matching("to", DAY)),
  };
}

/** A day that a calendar has: not the 31st of June. */
function dayOrNull(day: string | null): string | null {
  if (!day) return null;
  const date = new Date(`${day}T00:00:00Z`);
  return !Number.isNaN(date.getTime()) && date.toISOString().startsWith(day) ? day : null;
}

/** Where the page before ended. */
export function placeFrom(asked: URLSearchParams): BookPlace | null {
  const [at = "", id = ""] = (asked.get("after") ?? "").split("_");
  const startedAt = new Date(at);
  return UUID.test(id) && !Number.isNaN(startedAt.getTime()) ? { startedAt, id } : null;
}

export const placeText = ({ startedAt, id }: BookPlace): string => `${startedAt.toISOString()}_${id}`;
