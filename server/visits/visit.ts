import { v7 as uuid } from "uuid";
import {
  type Advice,
  adviseEach,
  balanceOf,
  type CountState,
  combinedFrom,
  type Finding,
  findings,
  InputFault,
  type Kit,
  measure,
  methodById,
  type Observation,
  type Quantity,
  type RangeSet,
  type Readings,
  type WaterBalance,
} from "#core";
import { type Basin, basinById } from "../db/basins";
import type { FirmScope } from "../db/connection";
import { countsOf } from "../db/counts";
import { dosesOfVisits, type StoredDose, saveDose, saveFindings } from "../db/doses";
import { lastReadings, readingsOfVisits, type StoredReading, saveReading } from "../db/readings";
import { kitVersion, productsOf, rangeSetVersion, type ShelfProduct } from "../db/shelf";
import { finishVisit, type Visit, visitById } from "../db/visits";

/** A visit with everything that its pages show and its writes need. */
export interface OpenedVisit {
  visit: Visit;
  basin: Basin;
  kit: Kit;
  rangeSet: RangeSet;
  /** Made in this visit. */
  readings: StoredReading[];
  /** The newest of each quantity from earlier visits. */
  earlier: StoredReading[];
  counts: Record<string, CountState>;
  doses: StoredDose[];
  products: ShelfProduct[];
}

/** Readings older than this say nothing about today's water. */
const CARRY_DAYS = 60;
const DAY = 86_400_000;

/** Opens a visit, or undefined when this firm has none under that id. */
export async function openVisit(scope: FirmScope, id: string): Promise<OpenedVisit | undefined> {
  const visit = await visitById(scope, id);
  if (!visit) return undefined;
  const basin = await basinById(scope, visit.basinId);
  if (!basin) return undefined;
  return {
    visit,
    basin,
    kit: await kitVersion(scope, visit.kitId),
    rangeSet: await rangeSetVersion(scope, visit.rangeSetId),
    readings: await readingsOfVisits(scope, [id]),
    earlier: await lastReadings(scope, visit.basinId, visit.startedAt),
    counts: await countsOf(scope, id),
    doses: await dosesOfVisits(scope, [id]),
    products: await productsOf(scope),
  };
}

/** Takes the visit's row so that two writes to one visit follow one another. */
async function holdVisit(scope: FirmScope, id: string): Promise<Visit> {
  await scope.selectFrom("visit").select("id").where("id", "=", id).forUpdate().execute();
  const visit = await visitById(scope, id);
  if (!visit) throw new InputFault("unknown", "visit", id);
  return visit;
}

interface Author {
  firmId: string;
  memberId: string;
  now: Date;
}

/**
 * Saves what was seen at a station as a reading, converted by the kit version of the visit. A total
 * chlorine reading also gives the combined one; a free reading made again corrects it.
 */
export async function recordObservation(
  scope: FirmScope,
  author: Author,
  visitId: string,
  sent: { id: string; methodId: string; seen: Observation },
): Promise<void> {
  const visit = await holdVisit(scope, visitId);
  if (visit.finishedAt) throw new InputFault("inconsistent", "visit", "finished");
  const kit = await kitVersion(scope, visit.kitId);
  const method = methodById(kit, sent.methodId);
  if (!method)
    throw new InputFault(
      "unknown",
      "methodId",
      sent.methodId,
      kit.methods.map((known) => known.id),
    );
  const reading: StoredReading = {
    ...measure(method, sent.seen),
    id: sent.id,
    visitId,
    quantity: method.quantity,
    methodId: method.id,
    observation: sent.seen,
    takenAt: author.now,
  };
  const standing = await readingsOfVisits(scope, [visitId]);
  const byQuantity = new Map(standing.map((other) => [other.quantity, other]));
  byQuantity.set(reading.quantity, reading);
  const combined = combinedOf(byQuantity, reading);
  const isNew = await saveReading(scope, author.firmId, author.memberId, reading);
  if (isNew && combined) await saveReading(scope, author.firmId, author.memberId, combined);
}

/** Combined chlorine as total less free, when this reading is one of the two and the other is there. */
function combinedOf(
  standing: ReadonlyMap<Quantity, StoredReading>,
  reading: StoredReading,
): StoredReading | null {
  if (reading.quantity !== "totalChlorine" && reading.quantity !== "freeChlorine") return null;
  const total = standing.get("totalChlorine");
  const free = standing.get("freeChlorine");
  if (!total) return null;
  if (!free) throw new InputFault("missing", "freeChlorine", undefined);
  return {
    ...combinedFrom(total, free),
    id: uuid(),
    visitId: reading.visitId,
    quantity: "combinedChlorine",
    methodId: total.methodId,
    observation: total.observation,
    takenAt: reading.takenAt,
  };
}

export interface Judgement {
  findings: Finding[];
  advice: Advice[];
  /** How the water stands as a whole; null while readings for it are missing. */
  balance: WaterBalance | null;
  /** Quantities that were not tested today and stand in from earlier for the amounts. */
  carried: StoredReading[];
}

const byQuantity = (readings: StoredReading[]): Readings =>
  Object.fromEntries(readings.map((reading) => [reading.quantity, reading]));

/** Judges what was measured in this visit; what was not tested is carried into the amounts only. */
export function judge(opened: OpenedVisit): Judgement {
  const { visit, basin, rangeSet, readings, earlier, products } = opened;
  const measured = new Set(readings.map((reading) => reading.quantity));
  const carried = earlier.filter(
    (reading) =>
      !measured.has(reading.quantity) &&
      visit.startedAt.getTime() - reading.takenAt.getTime() < CARRY_DAYS * DAY,
  );
  const found = findings(byQuantity(readings), rangeSet, basin.surface);
  const fill = basin.site.fillHardness;
  return {
    findings: found,
    carried,
    balance: balanceOf(
      Object.fromEntries(
        [...carried, ...readings].map((reading) => [
          reading.quantity,
          { ...reading, kind: methodById(opened.kit, reading.methodId)?.kind ?? "meter" },
        ]),
      ),
    ),
    advice: adviseEach({
      findings: found,
      readings: { ...byQuantity(carried), ...byQuantity(readings) },
      litres: visit.litres,
      products,
      ...(fill === null ? {} : { fill: { calciumHardness: fill } }),
    }),
  };
}

/** Saves what was given for a finding, beside what was planned. Nothing given takes a dose back. */
export async function recordDose(
  scope: FirmScope,
  author: Author,
  visitId: string,
  sent: { id: string; code: string; productId: string; givenGrams: number },
): Promise<void> {
  const visit = await holdVisit(scope, visitId);
  if (visit.finishedAt) throw new InputFault("inconsistent", "visit", "finished");
  const opened = await openVisit(scope, visitId);
  if (!opened) throw new InputFault("unknown", "visit", visitId);
  const product = opened.products.find((known) => known.id === sent.productId);
  if (!product) throw new InputFault("unknown", "productId", sent.productId);
  const planned = judge(opened).advice.find(
    (advice) => advice.kind === "dose" && advice.finding.code === sent.code,
  );
  if (planned?.kind !== "dose") throw new InputFault("unknown", "code", sent.code);
  await saveDose(scope, author.firmId, author.memberId, {
    id: sent.id,
    visitId,
    productId: product.id,
    code: sent.code,
    plannedGrams: planned.grams,
    givenGrams: sent.givenGrams,
    givenAt: author.now,
  });
}

/** Closes the visit: findings are written as they stand, the note is kept. Again changes nothing. */
export async function closeVisit(
  scope: FirmScope,
  author: Author,
  visitId: string,
  note: string,
): Promise<void> {
  const visit = await holdVisit(scope, visitId);
  if (visit.finishedAt) return;
  const opened = await openVisit(scope, visitId);
  if (!opened) throw new InputFault("unknown", "visit", visitId);
  if (opened.readings.length === 0) throw new InputFault("missing", "readings", 0, 1);
  await saveFindings(scope, author.firmId, visitId, judge(opened).findings);
  await finishVisit(scope, visitId, note, author.now);
}
