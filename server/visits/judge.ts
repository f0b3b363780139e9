import {
  type Advice,
  adviseEach,
  balanceOf,
  type Finding,
  InputFault,
  mayActOn,
  methodById,
  type WaterBalance,
} from "#core";
import type { FirmScope } from "../db/connection";
import { saveDose, saveFindings } from "../db/doses";
import type { StoredReading } from "../db/readings";
import { finishVisit, visitById } from "../db/visits";
import { isPlanCode, plannedGrams } from "./plan";
import { type Author, byQuantity, findingsNow, holdOpenVisit, type OpenedVisit, openVisit } from "./visit";

/** Readings older than this say nothing about today's water. */
const CARRY_DAYS = 60;
const DAY = 86_400_000;

export interface Judgement {
  findings: Finding[];
  advice: Advice[];
  /** How the water stands as a whole; null while readings for it are missing. */
  balance: WaterBalance | null;
  /** Quantities that were not tested today and stand in from earlier for the amounts. */
  carried: StoredReading[];
  /** Read today, but not to be acted on. */
  setAside: StoredReading[];
}

/** Judges what was measured in this visit; what was not tested is carried into the amounts only. */
export function judge(opened: OpenedVisit): Judgement {
  const { visit, basin, earlier, products } = opened;
  const readings = opened.readings.filter((reading) => mayActOn(reading.doubts));
  const measured = new Set(opened.readings.map((reading) => reading.quantity));
  const carried = earlier.filter(
    (reading) =>
      !measured.has(reading.quantity) &&
      visit.startedAt.getTime() - reading.takenAt.getTime() < CARRY_DAYS * DAY,
  );
  const found = findingsNow(opened);
  const fill = basin.site.fillHardness;
  const kits = [opened.kit, ...opened.otherKits.map((other) => other.kit)];
  const kindOf = (reading: StoredReading) =>
    kits.map((kit) => methodById(kit, reading.methodId)).find((method) => method)?.kind ?? "meter";
  return {
    findings: found,
    carried,
    setAside: opened.readings.filter((reading) => !mayActOn(reading.doubts)),
    balance: balanceOf(
      Object.fromEntries(
        [...carried, ...readings].map((reading) => [reading.quantity, { ...reading, kind: kindOf(reading) }]),
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
  await holdOpenVisit(scope, visitId);
  const opened = await openVisit(scope, visitId, author.now);
  if (!opened) throw new InputFault("unknown", "visit", visitId);
  const product = opened.products.find((known) => known.id === sent.productId);
  if (!product) throw new InputFault("unknown", "productId", sent.productId);
  const planned = await plannedFor(opened, sent.code);
  if (planned === null) throw new InputFault("unknown", "code", sent.code);
  await saveDose(scope, author.firmId, author.memberId, {
    id: sent.id,
    visitId,
    productId: product.id,
    code: sent.code,
    plannedGrams: planned,
    givenGrams: sent.givenGrams,
    givenAt: author.now,
  });
}

/** Grams that were planned under this code: a step of the plan, or the dose for a finding. */
async function plannedFor(opened: OpenedVisit, code: string): Promise<number | null> {
  if (isPlanCode(code)) return plannedGrams(opened, code);
  const advice = judge(opened).advice.find((one) => one.kind === "dose" && one.finding.code === code);
  return advice?.kind === "dose" ? advice.grams : null;
}

/** Closes the visit: findings are written as they stand, the note is kept. Again changes nothing. */
export async function closeVisit(
  scope: FirmScope,
  author: Author,
  visitId: string,
  note: string,
): Promise<void> {
  if ((await visitById(scope, visitId))?.finishedAt) return;
  await holdOpenVisit(scope, visitId);
  const opened = await openVisit(scope, visitId, author.now);
  if (!opened) throw new InputFault("unknown", "visit", visitId);
  if (opened.readings.length === 0) throw new InputFault("missing", "readings", 0, 1);
  await saveFindings(scope, author.firmId, visitId, findingsNow(opened));
  await finishVisit(scope, visitId, note, author.now);
}
