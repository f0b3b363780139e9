import { addDays, calledOn, dayIn, isDay, weekdayOf } from "#core";
import { basinsInOrder } from "#server/db/basins";
import type { FirmScope } from "#server/db/connection";
import { firmOf } from "#server/db/firms";
import type { SignedIn } from "#server/db/sessions";
import { type Board, boardOn } from "#server/week/week";

/** Days of a page. */
const DAYS = 7;

/** What a reader sees: the days of their own basins. */
export interface ReadersWeek {
  kind: "reader";
  days: { day: string; basins: { id: string; name: string }[] }[];
}
export type WorkersWeek = { kind: "board"; owner: boolean } & Board;

/** The page of a week: from today on, or from a day that the address names. */
export async function weekPage(
  scope: FirmScope,
  member: SignedIn,
  now: Date,
  asked: string | null,
): Promise<ReadersWeek | WorkersWeek> {
  const firm = await firmOf(scope);
  const today = dayIn(now, firm.timeZone);
  const from = asked && isDay(asked) && asked > today ? asked : today;
  if (member.role === "reader") return readersWeek(scope, today);
  const board = await boardOn(scope, firm, { from, days: DAYS }, now);
  return { kind: "board", owner: member.role === "owner", ...board };
}

/** Days that a reader is told of. */
const READERS_DAYS = 14;

async function readersWeek(scope: FirmScope, today: string): Promise<ReadersWeek> {
  const basins = await basinsInOrder(scope);
  const days = Array.from({ length: READERS_DAYS }, (_, ahead) => addDays(today, ahead));
  return {
    kind: "reader",
    days: days.map((day) => ({
      day,
      basins: basins
        .filter(({ calls }) => calledOn(calls, day))
        .map(({ id, name, site }) => ({ id, name: `${site.name}, ${name}` })),
    })),
  };
}

/** The Monday after a day, from which whole weeks are drawn up. */
export const nextMonday = (day: string): string => addDays(day, 8 - weekdayOf(day));
