import { differenceInCalendarDays, parseISO } from "date-fns";
import { type BottleState, type LogView, leftIn, ofLastSeason, shiftAcross } from "#core";
import { dayIn } from "../calendar";
import { bottlesOf } from "../db/bottles";
import type { FirmScope } from "../db/connection";
import { dosesAt } from "../db/doses";
import type { Firm } from "../db/firms";
import { isProductId } from "../db/products";
import { changesLately, metalsSeenAt, SLOW_QUANTITIES, type StoredReading } from "../db/readings";
import type { Visit } from "../db/visits";

const DAY = 86_400_000;
const HOUR = 3_600_000;
/** Doses older than this say nothing about today's tests. */
const DOSE_DAYS = 45;

/** What the log knows at this moment for the tests of a visit. */
export async function logView(
  scope: FirmScope,
  firm: Firm,
  visit: Visit,
  earlier: readonly StoredReading[],
  now: Date,
): Promise<LogView> {
  const given = await dosesAt(scope, visit.basinId, new Date(now.getTime() - DOSE_DAYS * DAY));
  const changes = await changesLately(scope, now);
  return {
    last: Object.fromEntries(
      earlier.map((reading) => [
        reading.quantity,
        { ...reading, daysAgo: Math.max(0, (now.getTime() - reading.takenAt.getTime()) / DAY) },
      ]),
    ),
    doses: given.flatMap(({ compound, givenAt, ...dose }) =>
      isProductId(compound)
        ? [{ ...dose, product: compound, hoursAgo: (now.getTime() - givenAt.getTime()) / HOUR }]
        : [],
    ),
    look: visit.look,
    bottles: await bottleStates(scope, firm, now),
    metalsSeen: await metalsSeenAt(scope, visit.basinId),
    shifts: Object.fromEntries(
      SLOW_QUANTITIES.flatMap((quantity) => {
        const shift = shiftAcross(changes.filter((one) => one.quantity === quantity));
        return shift ? [[quantity, shift]] : [];
      }),
    ),
  };
}

/** The bottles in use, one for each reagent: the one opened first that still holds something. */
export async function bottleStates(scope: FirmScope, firm: Firm, now: Date): Promise<BottleState[]> {
  const today = dayIn(now, firm.timeZone);
  const open = (await bottlesOf(scope)).filter((bottle) => bottle.openedOn !== null);
  const names = [...new Set(open.map((bottle) => bottle.reagent))];
  return names.flatMap((reagent) => {
    const own = open.filter((bottle) => bottle.reagent === reagent);
    const bottle = own.find((one) => leftIn(one) > 0) ?? own.at(-1);
    if (!bottle) return [];
    return [
      {
        reagent,
        daysExpired: bottle.expiresOn
          ? differenceInCalendarDays(parseISO(today), parseISO(bottle.expiresOn))
          : null,
        lastSeason: ofLastSeason(bottle.openedOn, today, firm.seasonStart),
        left: leftIn(bottle),
      },
    ];
  });
}
