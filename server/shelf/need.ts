import { millisecondsInDay } from "date-fns/constants";
import {
  addDays,
  adviseSample,
  type Basin,
  cadenceWith,
  calledOn,
  dayIn,
  dueTests,
  type Firm,
  type Kit,
  methodsAt,
  type RangeSet,
  type ReagentUse,
  rangeFor,
  reagentsNeeded,
  setForBasin,
  stationsWith,
} from "#core";
import { allBasins } from "../db/basins";
import type { FirmScope } from "../db/connection";
import { kitVersion } from "../db/kits";
import { rangeSetVersion } from "../db/range-sets";
import { type LastValue, lastValues } from "../db/readings";
import { grouped } from "../grouped";

/** Days of the round that the shelf must last for. */
export const NEED_DAYS = 7;

/**
 * What the coming week's calls will take out of the bottles: every call's due tests, each with the
 * drops that its last reading makes expected.
 */
export async function weekNeed(scope: FirmScope, firm: Firm, now: Date): Promise<ReagentUse[]> {
  const basins = await allBasins(scope);
  const last = grouped(
    await lastValues(
      scope,
      basins.map((basin) => basin.id),
      now,
    ),
    (one) => one.basinId,
  );
  const kits = await versions(basins, "kitId", (id) => kitVersion(scope, id));
  const sets = await versions(basins, "rangeSetId", (id) => rangeSetVersion(scope, id));
  const total = new Map<string, ReagentUse>();
  for (const basin of basins) {
    const [kit, set] = [kits.get(basin.kitId), sets.get(basin.rangeSetId)];
    if (!kit || !set) continue;
    const limits = setForBasin(set, basin, basin.rangeOverrides);
    for (const use of needOf(firm, basin, kit, limits, last.get(basin.id) ?? [], now)) {
      const known = total.get(use.reagent);
      total.set(use.reagent, { ...use, amount: (known?.amount ?? 0) + use.amount });
    }
  }
  return [...total.values()].sort((a, b) => a.reagent.localeCompare(b.reagent));
}

/** Each version that some basin uses, read once. */
async function versions<T>(
  basins: Basin[],
  name: "kitId" | "rangeSetId",
  read: (id: string) => Promise<T>,
): Promise<Map<string, T>> {
  const found = new Map<string, T>();
  for (const id of new Set(basins.map((basin) => basin[name]))) found.set(id, await read(id));
  return found;
}

function needOf(
  firm: Firm,
  basin: Basin,
  kit: Kit,
  rangeSet: RangeSet,
  last: LastValue[],
  now: Date,
): ReagentUse[] {
  const today = dayIn(now, firm.timeZone);
  const days = Array.from({ length: NEED_DAYS }, (_, day) => day).filter((day) =>
    calledOn(basin.calls, addDays(today, day)),
  );
  const age = new Map(
    last.map((one) => [one.quantity, (now.getTime() - one.takenAt.getTime()) / millisecondsInDay]),
  );
  const needed: ReagentUse[] = [];
  for (const day of days) {
    const due = dueTests({
      stations: stationsWith(kit, basin.sanitiser),
      cadence: cadenceWith(firm.cadence, basin.cadence).tests,
      lastDaysAgo: Object.fromEntries([...age].map(([quantity, ago]) => [quantity, ago + day])),
      outLastTime: new Set(),
      outWhenRead: new Set(),
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
