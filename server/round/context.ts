import { millisecondsInDay } from "date-fns/constants";
import {
  type Basin,
  type Finding,
  type Firm,
  type ForecastPoint,
  type Kit,
  LABEL_DOSE_DAYS,
  type RangeSet,
  type ShelfProduct,
} from "#core";
import type { FirmScope } from "../db/connection";
import { findingsOfVisits } from "../db/doses";
import { kitVersion } from "../db/kits";
import { forecastsOf } from "../db/learned";
import { plannedCalls } from "../db/plans";
import { rangeSetVersion } from "../db/range-sets";
import { type LastValue, lastValues } from "../db/readings";
import { type LastVisit, type LateDose, labelledDoses, lateDoses } from "../db/recent";
import { tasksDone } from "../db/rounds";
import { openVisits } from "../db/visits";
import { grouped } from "../grouped";

/** Days back of which doses make a basin's habits. */
const HABIT_DAYS = 42;

/** What the calls of a day are told from. */
export interface DayContext {
  kits: Map<string, Kit>;
  sets: Map<string, RangeSet>;
  open: Map<string, { id: string; memberName: string }>;
  last: Map<string, LastVisit>;
  findings: Map<string, { finding: Finding }[]>;
  readings: Map<string, LastValue[]>;
  doses: Map<string, LateDose[]>;
  done: Map<string, { task: string; at: Date }[]>;
  compounds: Map<string, ShelfProduct["product"]>;
  forecasts: Map<string, ForecastPoint[]>;
  planned: Awaited<ReturnType<typeof plannedCalls>>;
  labelled: Map<string, Awaited<ReturnType<typeof labelledDoses>>>;
  products: ShelfProduct[];
  firm: Firm;
  at: Date;
}

interface DayQuery {
  firm: Firm;
  basins: Basin[];
  day: string;
  now: Date;
  products: ShelfProduct[];
  last: LastVisit[];
}

export async function contextOf(
  scope: FirmScope,
  { firm, basins, day, now, products, last }: DayQuery,
): Promise<DayContext> {
  const ids = basins.map((basin) => basin.id);
  const visitOf = new Map(last.map((one) => [one.id, one.basinId]));
  const found = await findingsOfVisits(scope, [...visitOf.keys()]);
  const kits = new Map<string, Kit>();
  const sets = new Map<string, RangeSet>();
  for (const basin of basins) {
    if (!kits.has(basin.kitId)) kits.set(basin.kitId, await kitVersion(scope, basin.kitId));
    if (!sets.has(basin.rangeSetId))
      sets.set(basin.rangeSetId, await rangeSetVersion(scope, basin.rangeSetId));
  }
  return {
    kits,
    sets,
    open: await openVisits(scope),
    last: new Map(last.map((one) => [one.basinId, one])),
    findings: grouped(found, (one) => visitOf.get(one.visitId) ?? ""),
    readings: grouped(await lastValues(scope, ids, now), (one) => one.basinId),
    doses: grouped(
      await lateDoses(scope, ids, new Date(now.getTime() - HABIT_DAYS * millisecondsInDay)),
      (one) => one.basinId,
    ),
    done: grouped(await tasksDone(scope, ids), (one) => one.basinId),
    compounds: new Map(products.map((product) => [product.id, product.product])),
    forecasts: await forecastsOf(scope, ids),
    planned: await plannedCalls(scope, ids),
    labelled: grouped(
      await labelledDoses(scope, ids, new Date(now.getTime() - LABEL_DOSE_DAYS * millisecondsInDay)),
      (one) => one.basinId,
    ),
    products,
    firm,
    at: new Date(Math.max(now.getTime(), Date.parse(`${day}T12:00:00Z`))),
  };
}
