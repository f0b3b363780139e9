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
import { accessOf } from "../db/access";
import type { FirmScope } from "../db/connection";
import { defectsOf, isOpen, type KeptDefect } from "../db/defects";
import { findingsOfVisits } from "../db/doses";
import type { OpenJob } from "../db/jobs";
import { kitsOf, kitVersion } from "../db/kits";
import { forecastsOf } from "../db/learned";
import { plannedCalls } from "../db/plans";
import { rangeSetVersion } from "../db/range-sets";
import { type LastValue, lastValues } from "../db/readings";
import { type LastVisit, type LateDose, labelledDoses, lastVisitsOf, lateDoses } from "../db/recent";
import { tasksDone } from "../db/rounds";
import { filtersFull, workLastDone, workListsOf } from "../db/work";
import { grouped } from "../grouped";

/** Days back of which doses make a basin's habits. */
const HABIT_DAYS = 42;

/** What the calls of a day are told from. */
export interface DayContext {
  kits: Map<string, Kit>;
  /** Everything that the firm tests with: what is on a truck. */
  onTruck: Kit[];
  sets: Map<string, RangeSet>;
  open: Map<string, { id: string; memberName: string }>;
  last: Map<string, LastVisit>;
  findings: Map<string, { finding: Finding }[]>;
  readings: Map<string, LastValue[]>;
  doses: Map<string, LateDose[]>;
  done: Map<string, { task: string; at: Date }[]>;
  compounds: Map<string, ShelfProduct["product"]>;
  forecasts: Map<string, ForecastPoint[]>;
  /** Jobs of several calls that are under way, by basin. */
  jobs: Map<string, OpenJob[]>;
  planned: Awaited<ReturnType<typeof plannedCalls>>;
  /** What is broken there and waits to be mended. */
  defects: Map<string, KeptDefect[]>;
  access: Awaited<ReturnType<typeof accessOf>>;
  workLists: Awaited<ReturnType<typeof workListsOf>>;
  /** The day on which the filter's pressure said that it wants cleaning. */
  filters: Awaited<ReturnType<typeof filtersFull>>;
  workDone: Awaited<ReturnType<typeof workLastDone>>;
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
  open: DayContext["open"];
  jobs: DayContext["jobs"];
}

export async function contextOf(
  scope: FirmScope,
  { firm, basins, day, now, products, open, jobs }: DayQuery,
): Promise<DayContext> {
  const ids = basins.map((basin) => basin.id);
  const since = (days: number) => new Date(now.getTime() - days * millisecondsInDay);
  const [
    visits,
    kits,
    sets,
    readings,
    doses,
    done,
    forecasts,
    planned,
    labelled,
    workLists,
    workDone,
    filters,
    defects,
    access,
    shelf,
  ] = await Promise.all([
    lastVisitsWith(scope, ids, day, firm.timeZone),
    versionsOf(
      basins.map(({ kitId }) => kitId),
      (id) => kitVersion(scope, id),
    ),
    versionsOf(
      basins.map(({ rangeSetId }) => rangeSetId),
      (id) => rangeSetVersion(scope, id),
    ),
    lastValues(scope, ids, now),
    lateDoses(scope, ids, since(HABIT_DAYS)),
    tasksDone(scope, ids),
    forecastsOf(scope, ids),
    plannedCalls(scope, ids),
    labelledDoses(scope, ids, since(LABEL_DOSE_DAYS)),
    workListsOf(scope),
    workLastDone(scope, ids, firm.timeZone),
    filtersFull(scope, ids, firm.timeZone),
    defectsOf(scope, ids),
    accessOf(scope, [...new Set(basins.map(({ site }) => site.id))]),
    kitsOf(scope),
  ]);
  return {
    ...visits,
    kits,
    onTruck: shelf.map(({ kit }) => kit),
    sets,
    open,
    jobs,
    readings: grouped(readings, (one) => one.basinId),
    doses: grouped(doses, (one) => one.basinId),
    done: grouped(done, (one) => one.basinId),
    compounds: new Map(products.map((product) => [product.id, product.product])),
    forecasts,
    planned,
    defects: grouped(defects.filter(isOpen), (one) => one.basinId),
    access,
    workLists,
    workDone,
    filters,
    labelled: grouped(labelled, (one) => one.basinId),
    products,
    firm,
    at: new Date(Math.max(now.getTime(), Date.parse(`${day}T12:00:00Z`))),
  };
}

/** The last visit of each basin, and what the last test found there. */
async function lastVisitsWith(scope: FirmScope, ids: string[], day: string, timeZone: string) {
  const last = await lastVisitsOf(scope, ids, day, timeZone);
  const basinOf = new Map(last.flatMap(({ testedId, basinId }) => (testedId ? [[testedId, basinId]] : [])));
  const found = await findingsOfVisits(scope, [...basinOf.keys()]);
  return {
    last: new Map(last.map((one) => [one.basinId, one])),
    findings: grouped(found, (one) => basinOf.get(one.visitId) ?? ""),
  };
}

/** Each version once, by its id. */
const versionsOf = async <T>(ids: string[], read: (id: string) => Promise<T>): Promise<Map<string, T>> =>
  new Map(await Promise.all([...new Set(ids)].map(async (id) => [id, await read(id)] as const)));
