import { NoResultError } from "kysely";
import {
  cadenceWith,
  type Due,
  dueTests,
  type Finding,
  findings,
  InputFault,
  type Kit,
  type KnownWater,
  type LogView,
  type Made,
  type Method,
  mayActOn,
  methodById,
  methodsAt,
  type PlanProgress,
  placeInRange,
  possibleFindings,
  progressOf,
  type Quantity,
  type Range,
  type RangeSet,
  type Readings,
  rangesOf,
  stationsWith,
  withOverrides,
} from "#core";
import { type Basin, basinById } from "../db/basins";
import type { FirmScope } from "../db/connection";
import { countsOf, type KeptCount } from "../db/counts";
import { dosesOfVisits, findingsOfVisits, type StoredDose } from "../db/doses";
import { type Firm, firmOf } from "../db/firms";
import { type KitOnShelf, kitsOf, kitVersion } from "../db/kits";
import { type Photo, photosOf } from "../db/photos";
import { plansOf, type StoredPlan } from "../db/plans";
import { productsOf, type ShelfProduct } from "../db/products";
import { rangeSetVersion } from "../db/range-sets";
import {
  lastReadings,
  readingsOfVisits,
  type StoredReading,
  type SupersededReading,
  trailOf,
} from "../db/readings";
import { type Visit, visitById, visitsOfBasin } from "../db/visits";
import { knownWater } from "./known-water";
import { logView } from "./log-view";

/** A visit with everything that its pages show and its writes need. */
export interface OpenedVisit {
  visit: Visit;
  basin: Basin;
  /** The kit of the visit, in the version that it began with. */
  kit: Kit;
  /** What else is on the truck: the firm's other kits. */
  otherKits: Pick<KitOnShelf, "id" | "kit">[];
  /** The set of the visit with the basin's own limits in it. */
  rangeSet: RangeSet;
  /** The water that its readings make with those carried into it: the judge's, the plan's, the ranges'. */
  known: KnownWater;
  /** Its ranges as they apply to this basin and this water. */
  ranges: Partial<Record<Quantity, Range>>;
  /** Made in this visit: for each quantity the newest that is used. */
  readings: StoredReading[];
  /** Made beside those by another method, and not the best. */
  beside: StoredReading[];
  /** Used earlier in this visit, before a plan's doses went in. */
  before: StoredReading[];
  /** The newest of each quantity from earlier visits. */
  earlier: StoredReading[];
  counts: Record<string, KeptCount>;
  doses: StoredDose[];
  products: ShelfProduct[];
  photos: Photo[];
  log: LogView;
  due: Due[];
  /** Begun in this visit, in their order; the last one may be under way. */
  plans: StoredPlan[];
  /** How far the plan that is under way has come; null when none is. */
  progress: PlanProgress | null;
  firm: Firm;
  /** What readings stood for before they were corrected. */
  trail: SupersededReading[];
}

const DAY = 86_400_000;

/** Opens a visit, or undefined when this firm has none under that id. */
export async function openVisit(scope: FirmScope, id: string, now: Date): Promise<OpenedVisit | undefined> {
  const visit = await visitById(scope, id);
  if (!visit) return undefined;
  const basin = await basinById(scope, visit.basinId);
  if (!basin) return undefined;
  const kit = await kitVersion(scope, visit.kitId);
  const rangeSet = withOverrides(await rangeSetVersion(scope, visit.rangeSetId), visit.rangeOverrides);
  const plans = await plansOf(scope, id);
  const { readings, beside, before } = byRound(await readingsOfVisits(scope, [id]));
  const earlier = await lastReadings(scope, visit.basinId, visit.startedAt);
  const at = visit.finishedAt ?? now;
  const firm = await firmOf(scope);
  const log = await logView(scope, firm, visit, earlier, at);
  const otherKits = (await kitsOf(scope)).filter((other) => other.id !== visit.kitId);
  const kindOf = madeIn({ kit, otherKits });
  const known = knownWater({
    basin,
    today: readings.filter((reading) => mayActOn(reading.doubts)),
    earlier,
    at: visit.startedAt,
    kindOf: (reading) => kindOf(reading).kind,
    demandTarget: demandTarget({ kit, otherKits }),
  });
  const ranges = rangesOf(rangeSet, basin.surface, known.water);
  const opened = { visit, basin, kit, rangeSet, known, ranges, readings, earlier, log };
  return {
    ...opened,
    beside,
    before,
    plans,
    progress: progressIn(plans, [...readings, ...before]),
    firm,
    otherKits,
    counts: await countsOf(scope, id),
    doses: await dosesOfVisits(scope, [id]),
    products: await productsOf(scope, visit.memberId),
    photos: await photosOf(scope, id),
    trail: await trailOf(scope, id),
    due: await dueAt(scope, { ...opened, firm }, at),
  };
}

/** The plan under way; the last one begun, unless it was ended. */
export const planUnderWay = ({ plans }: Pick<OpenedVisit, "plans">): StoredPlan | null => {
  const last = plans.at(-1);
  return last && !last.endedAt ? last : null;
};

function progressIn(plans: StoredPlan[], readings: StoredReading[]): PlanProgress | null {
  const plan = planUnderWay({ plans });
  if (!plan) return null;
  return progressOf(
    plan.content.steps,
    plan.settled,
    readings.filter((reading) => reading.round > plan.round),
  );
}

/** The newest round of each quantity, split into what is used and what stands beside; and what was used before. */
function byRound(standing: StoredReading[]): Pick<OpenedVisit, "readings" | "beside" | "before"> {
  const newest = (reading: StoredReading) =>
    !standing.some((other) => other.quantity === reading.quantity && other.round > reading.round);
  return {
    readings: standing.filter((reading) => newest(reading) && reading.used),
    beside: standing.filter((reading) => newest(reading) && !reading.used),
    before: standing.filter((reading) => !newest(reading) && reading.used),
  };
}

async function dueAt(
  scope: FirmScope,
  opened: Pick<OpenedVisit, "visit" | "basin" | "kit" | "ranges" | "readings" | "earlier" | "log" | "firm">,
  now: Date,
): Promise<Due[]> {
  const { visit, basin, kit, ranges, readings, earlier, log, firm } = opened;
  const [last] = await visitsOfBasin(scope, basin.id, 1, visit.startedAt);
  const found = last ? await findingsOfVisits(scope, [last.id]) : [];
  const ph = readings.find((reading) => reading.quantity === "ph" && mayActOn(reading.doubts));
  const place = ph ? placeInRange(ph, ranges.ph) : "within";
  return dueTests({
    stations: stationsWith(kit, basin.sanitiser),
    cadence: cadenceWith(firm.cadence, basin.cadence).tests,
    lastDaysAgo: Object.fromEntries(
      earlier.map((reading) => [reading.quantity, (now.getTime() - reading.takenAt.getTime()) / DAY]),
    ),
    outLastTime: new Set(found.map(({ finding }) => finding.quantity)),
    doses: log.doses.map((dose) => ({ ...dose, daysAgo: dose.hoursAgo / 24 })),
    litres: visit.litres,
    phOff: place === "within" ? null : place,
  });
}

/** The method that made a reading, from the version of the kit that it names. */
export async function methodOf(scope: FirmScope, kitId: string, methodId: string): Promise<Method> {
  const kit = await kitVersion(scope, kitId).catch((fault) => {
    throw fault instanceof NoResultError ? new InputFault("unknown", "kitId", kitId) : fault;
  });
  const method = methodById(kit, methodId);
  if (!method)
    throw new InputFault(
      "unknown",
      "methodId",
      methodId,
      kit.methods.map((known) => known.id),
    );
  return method;
}

/** What readings that may be acted on break of the range set. */
const findingsIn = ({ rangeSet, basin, known }: OpenedVisit, readings: StoredReading[]): Finding[] =>
  findings(actedOn(readings), rangeSet, basin.surface, known.water);

const actedOn = (readings: StoredReading[]): Readings =>
  byQuantity(readings.filter((reading) => mayActOn(reading.doubts)));

export const findingsNow = (opened: OpenedVisit): Finding[] => findingsIn(opened, opened.readings);

/** What today's readings may be beyond their limits, by a drop or a gap of colours. */
export const possibleNow = ({ rangeSet, basin, known, readings }: OpenedVisit): Finding[] =>
  possibleFindings(actedOn(readings), rangeSet, basin.surface, known.water);

/** Moves within hours: of another day it says nothing about today. */
const OF_THE_HOUR: readonly Quantity[] = ["ph", "freeChlorine", "combinedChlorine", "totalChlorine"];

/** What was out of its range when it was last read, and was not tested today: it stays told, with its age. */
export function findingsCarried(opened: OpenedVisit): Finding[] {
  const { rangeSet, basin, known, visit } = opened;
  const carried = carriedInto(opened).filter((reading) => !OF_THE_HOUR.includes(reading.quantity));
  return findings(byQuantity(carried), rangeSet, basin.surface, known.water).map((finding) => {
    const takenAt = carried.find((one) => one.quantity === finding.quantity)?.takenAt ?? visit.startedAt;
    return { ...finding, closes: false, daysAgo: (visit.startedAt.getTime() - takenAt.getTime()) / DAY };
  });
}

/** Not tested today; what was read before stands in. */
export function carriedInto({
  readings,
  earlier,
}: Pick<OpenedVisit, "readings" | "earlier">): StoredReading[] {
  const measured = new Set(readings.map((reading) => reading.quantity));
  return earlier.filter((reading) => !measured.has(reading.quantity));
}

/** pH to which the kit's demand test is titrated; null when it has none. */
export function demandTarget({ kit, otherKits }: Pick<OpenedVisit, "kit" | "otherKits">): number | null {
  for (const one of [kit, ...otherKits.map((other) => other.kit)])
    for (const station of ["acidDemand", "baseDemand"] as const)
      for (const method of methodsAt(one, station))
        if (method.kind === "titration" && method.target !== undefined) return method.target;
  return null;
}

/** What was found on arrival and since, each once; what the last test no longer has is settled. */
export function findingsOverall(opened: OpenedVisit): Finding[] {
  const now = findingsNow(opened);
  const first = [...opened.before, ...opened.readings].filter(
    (reading, _, all) =>
      !all.some((other) => other.quantity === reading.quantity && other.round < reading.round),
  );
  const settled = findingsIn(opened, first).filter((one) => !now.some((other) => other.code === one.code));
  return [...now, ...settled.map((finding) => ({ ...finding, settled: true }))];
}

/** A reading with the kind of test that made it. */
export const madeIn =
  ({ kit, otherKits }: Pick<OpenedVisit, "kit" | "otherKits">) =>
  (reading: StoredReading): StoredReading & Made => ({
    ...reading,
    kind:
      [kit, ...otherKits.map((other) => other.kit)]
        .map((one) => methodById(one, reading.methodId))
        .find((method) => method)?.kind ?? "meter",
  });

export const byQuantity = (readings: StoredReading[]): Readings =>
  Object.fromEntries(readings.map((reading) => [reading.quantity, reading]));

/** Takes the visit's row so that two writes to one visit follow one another. */
export async function holdVisit(scope: FirmScope, id: string): Promise<Visit> {
  await scope.selectFrom("visit").select("id").where("id", "=", id).forUpdate().execute();
  const visit = await visitById(scope, id);
  if (!visit) throw new InputFault("unknown", "visit", id);
  return visit;
}

/** As `holdVisit`; refuses a finished one. */
export async function holdOpenVisit(scope: FirmScope, id: string): Promise<Visit> {
  const visit = await holdVisit(scope, id);
  if (visit.finishedAt) throw new InputFault("inconsistent", "visit", "finished");
  return visit;
}
