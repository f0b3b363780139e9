import {
  CADENCE,
  type Due,
  dueTests,
  findings,
  InputFault,
  type Kit,
  type LogView,
  type Method,
  mayActOn,
  methodById,
  placeInRange,
  type RangeSet,
  type Readings,
  rangeFor,
  stationsWith,
} from "#core";
import { type Basin, basinById } from "../db/basins";
import type { FirmScope } from "../db/connection";
import { countsOf, type KeptCount } from "../db/counts";
import { dosesOfVisits, findingsOfVisits, type StoredDose } from "../db/doses";
import { firmOf } from "../db/firms";
import { type KitOnShelf, kitsOf, kitVersion, rangeSetVersion } from "../db/kits";
import { type Photo, photosOf } from "../db/photos";
import { productsOf, type ShelfProduct } from "../db/products";
import { lastReadings, readingsOfVisits, type StoredReading } from "../db/readings";
import { type Visit, visitById, visitsOfBasin } from "../db/visits";
import { logView } from "./log-view";

/** A visit with everything that its pages show and its writes need. */
export interface OpenedVisit {
  visit: Visit;
  basin: Basin;
  /** The kit of the visit, in the version that it began with. */
  kit: Kit;
  /** What else is on the truck: the firm's other kits. */
  otherKits: Pick<KitOnShelf, "id" | "kit">[];
  rangeSet: RangeSet;
  /** Made in this visit: for each quantity the one that is used. */
  readings: StoredReading[];
  /** Made in this visit by another method, and not the best. */
  beside: StoredReading[];
  /** The newest of each quantity from earlier visits. */
  earlier: StoredReading[];
  counts: Record<string, KeptCount>;
  doses: StoredDose[];
  products: ShelfProduct[];
  photos: Photo[];
  log: LogView;
  due: Due[];
}

const DAY = 86_400_000;

/** Opens a visit, or undefined when this firm has none under that id. */
export async function openVisit(scope: FirmScope, id: string, now: Date): Promise<OpenedVisit | undefined> {
  const visit = await visitById(scope, id);
  if (!visit) return undefined;
  const basin = await basinById(scope, visit.basinId);
  if (!basin) return undefined;
  const kit = await kitVersion(scope, visit.kitId);
  const rangeSet = await rangeSetVersion(scope, visit.rangeSetId);
  const standing = await readingsOfVisits(scope, [id]);
  const earlier = await lastReadings(scope, visit.basinId, visit.startedAt);
  const readings = standing.filter((reading) => reading.used);
  const at = visit.finishedAt ?? now;
  const log = await logView(scope, await firmOf(scope), visit, earlier, at);
  const opened = { visit, basin, kit, rangeSet, readings, earlier, log };
  return {
    ...opened,
    otherKits: (await kitsOf(scope)).filter((other) => other.id !== visit.kitId),
    beside: standing.filter((reading) => !reading.used),
    counts: await countsOf(scope, id),
    doses: await dosesOfVisits(scope, [id]),
    products: await productsOf(scope),
    photos: await photosOf(scope, id),
    due: await dueAt(scope, opened, at),
  };
}

async function dueAt(
  scope: FirmScope,
  opened: Pick<OpenedVisit, "visit" | "basin" | "kit" | "rangeSet" | "readings" | "earlier" | "log">,
  now: Date,
): Promise<Due[]> {
  const { visit, basin, kit, rangeSet, readings, earlier, log } = opened;
  const [last] = await visitsOfBasin(scope, basin.id, 1, visit.startedAt);
  const found = last ? await findingsOfVisits(scope, [last.id]) : [];
  const ph = readings.find((reading) => reading.quantity === "ph" && mayActOn(reading.doubts));
  const place = ph ? placeInRange(ph, rangeFor(rangeSet, "ph", basin.surface)) : "within";
  return dueTests({
    stations: stationsWith(kit, basin.sanitiser),
    cadence: CADENCE,
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
  const kit = await kitVersion(scope, kitId).catch(() => {
    throw new InputFault("unknown", "kitId", kitId);
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

/** What the readings that may be acted on break of the range set. */
export const findingsNow = ({ readings, rangeSet, basin }: OpenedVisit) =>
  findings(byQuantity(readings.filter((reading) => mayActOn(reading.doubts))), rangeSet, basin.surface);

export const byQuantity = (readings: StoredReading[]): Readings =>
  Object.fromEntries(readings.map((reading) => [reading.quantity, reading]));

/** Takes the visit's row so that two writes to one visit follow one another; refuses a finished one. */
export async function holdOpenVisit(scope: FirmScope, id: string): Promise<Visit> {
  await scope.selectFrom("visit").select("id").where("id", "=", id).forUpdate().execute();
  const visit = await visitById(scope, id);
  if (!visit) throw new InputFault("unknown", "visit", id);
  if (visit.finishedAt) throw new InputFault("inconsistent", "visit", "finished");
  return visit;
}

export interface Author {
  firmId: string;
  memberId: string;
  now: Date;
}
