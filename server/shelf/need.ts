import {
  addDays,
  adviseSample,
  cadenceWith,
  calledOn,
  dueTests,
  methodsAt,
  type ReagentUse,
  rangeFor,
  reagentsNeeded,
  stationsWith,
} from "#core";
import { dayIn } from "../calendar";
import { allBasins, type Basin } from "../db/basins";
import type { FirmScope } from "../db/connection";
import type { Firm } from "../db/firms";
import { kitVersion } from "../db/kits";
import { rangeSetVersion } from "../db/range-sets";
import { lastReadings } from "../db/readings";

/** Days of the round that the shelf must last for. */
export const NEED_DAYS = 7;
const DAY = 86_400_000;

/**
 * What the coming week's calls will take out of the bottles: every call's due tests, each with the
 * drops that its last reading makes expected.
 */
export async function weekNeed(scope: FirmScope, firm: Firm, now: Date): Promise<ReagentUse[]> {
  const total = new Map<string, ReagentUse>();
  for (const basin of await allBasins(scope))
    for (const use of await needOf(scope, firm, basin, now)) {
      const known = total.get(use.reagent);
      total.set(use.reagent, { ...use, amount: (known?.amount ?? 0) + use.amount });
    }
  return [...total.values()].sort((a, b) => a.reagent.localeCompare(b.reagent));
}

async function needOf(scope: FirmScope, firm: Firm, basin: Basin, now: Date): Promise<ReagentUse[]> {
  const today = dayIn(now, firm.timeZone);
  const days = Array.from({ length: NEED_DAYS }, (_, day) => day).filter((day) =>
    calledOn(basin.calls, addDays(today, day)),
  );
  if (days.length === 0) return [];
  const kit = await kitVersion(scope, basin.kitId);
  const rangeSet = await rangeSetVersion(scope, basin.rangeSetId);
  const last = await lastReadings(scope, basin.id, now);
  const age = new Map(last.map((one) => [one.quantity, (now.getTime() - one.takenAt.getTime()) / DAY]));
  const needed: ReagentUse[] = [];
  for (const day of days) {
    const due = dueTests({
      stations: stationsWith(kit, basin.sanitiser),
      cadence: cadenceWith(firm.cadence, basin.cadence).tests,
      lastDaysAgo: Object.fromEntries([...age].map(([quantity, ago]) => [quantity, ago + day])),
      outLastTime: new Set(),
      doses: [],
      litres: basin.litres,
      phOff: null,
    });
    for (const { station, due: isDue } of due) {
      const method = methodsAt(kit, station)[0];
      if (!isDue || !method) continue;
      age.set(station, -day);
      const value = last.find((one) => one.quantity === method.quantity)?.value ?? null;
      if (method.kind !== "titration") {
        needed.push(...reagentsNeeded(method, null, 0));
        continue;
      }
      const advice = adviseSample(method, value, rangeFor(rangeSet, method.quantity, basin.surface));
      needed.push(...reagentsNeeded(method, advice.millilitres, advice.expected ?? 10));
    }
  }
  return needed;
}
