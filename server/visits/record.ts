import { v7 as uuid } from "uuid";
import {
  bestOf,
  combinedFrom,
  contextFor,
  type DoubtCode,
  doubtsOf,
  InputFault,
  type Look,
  type Method,
  measure,
  mixesLike,
  type Observation,
  reagentsUsed,
  type Sampling,
  samplingProblems,
  toAnswer,
} from "#core";
import type { Author } from "../author";
import { basinById } from "../db/basins";
import { drawDown } from "../db/bottles";
import type { FirmScope } from "../db/connection";
import { type StoredReading, saveReading } from "../db/readings";
import { keepBeforeTests } from "../db/visits";
import { keepOutcome } from "./dosing";
import { holdOpenVisit, methodOf, type OpenedVisit, openVisit } from "./visit";

export interface SentObservation {
  id: string;
  /** The version of the kit; the visit's own when it is left out. */
  kitId?: string | undefined;
  methodId: string;
  seen: Observation;
  /** Doubts that the technician has answered. */
  confirmed?: DoubtCode[] | undefined;
}

/**
 * Saves what was seen at a station as a reading, converted by the kit version that it names. A total
 * chlorine reading also gives the combined one; a free reading made again corrects it.
 *
 * @throws InputFault "unconfirmed" with the codes of doubts that have to be answered first
 */
export async function recordObservation(
  scope: FirmScope,
  author: Author,
  visitId: string,
  sent: SentObservation,
): Promise<void> {
  const visit = await holdOpenVisit(scope, visitId);
  const opened = await openVisit(scope, visitId, author.now);
  if (!opened) throw new InputFault("unknown", "visit", visitId);
  const kitId = sent.kitId ?? visit.kitId;
  const method = await methodOf(scope, kitId, sent.methodId);
  const result = measure(method, sent.seen);
  // After a plan's doses the water is another: only what was read since stands beside this reading.
  const round = opened.plans.length;
  const standing = [...opened.beside, ...opened.readings].filter((one) => one.round === round);
  const doubts = doubtsOf(contextFor(opened.log, standing, { method, result, seen: sent.seen })).filter(
    (doubt) => doubt.moment === "result",
  );
  const reading: StoredReading = {
    ...result,
    id: sent.id,
    visitId,
    quantity: method.quantity,
    kitId,
    methodId: method.id,
    observation: sent.seen,
    doubts,
    takenAt: author.now,
    used: true,
    round,
  };
  const combined = combinedOf(standing, reading);
  const open = toAnswer(doubts, sent.confirmed);
  if (open.length > 0)
    throw new InputFault(
      "unconfirmed",
      method.quantity,
      result.value,
      open.map((doubt) => doubt.code),
    );

  const best = await bestByAccuracy(scope, opened, reading);
  await saveReading(scope, author.firmId, author.memberId, reading, best);
  await drawDown(scope, author.firmId, reading.id, reagentsUsed(method, sent.seen));
  if (combined) await saveReading(scope, author.firmId, author.memberId, combined, best);
  for (const retest of combined ? [reading, combined] : [reading])
    await keepOutcome(scope, author.firmId, opened, retest);
}

/** Among readings of one quantity the one with the narrowest interval is used. */
export async function bestByAccuracy(scope: FirmScope, opened: OpenedVisit, reading: StoredReading) {
  const kinds = new Map<string, Method["kind"]>();
  for (const { kitId, methodId } of [...opened.readings, ...opened.beside, reading])
    kinds.set(kitId + methodId, (await methodOf(scope, kitId, methodId)).kind);
  return (standing: StoredReading[]): number =>
    bestOf(standing.map((one) => ({ ...one, kind: kinds.get(one.kitId + one.methodId) ?? "meter" })));
}

/** Combined chlorine as total less free, when this reading is one of the two and the other is there. */
export function combinedOf(standing: readonly StoredReading[], reading: StoredReading): StoredReading | null {
  if (reading.quantity !== "totalChlorine" && reading.quantity !== "freeChlorine") return null;
  const newest = (quantity: StoredReading["quantity"]) =>
    reading.quantity === quantity ? reading : standing.find((one) => one.quantity === quantity && one.used);
  const total = newest("totalChlorine");
  const free = newest("freeChlorine");
  if (!total) return null;
  if (!free) throw new InputFault("missing", "freeChlorine", undefined);
  return {
    ...total,
    ...combinedFrom(total, free),
    id: uuid(),
    quantity: "combinedChlorine",
    doubts: total.doubts.filter((doubt) => doubt.code === "persulfate-in-combined"),
    takenAt: reading.takenAt,
  };
}

/** Keeps what the look round found. */
export async function recordLook(scope: FirmScope, visitId: string, look: Look): Promise<void> {
  await holdOpenVisit(scope, visitId);
  await keepBeforeTests(scope, visitId, { look });
}

/**
 * Keeps how the sample was taken. What spoke against it and was ignored is worked out here, not taken
 * from the page.
 */
export async function recordSampling(
  scope: FirmScope,
  author: Author,
  visitId: string,
  sent: Sampling,
): Promise<void> {
  await holdOpenVisit(scope, visitId);
  const opened = await openVisit(scope, visitId, author.now);
  if (!opened) throw new InputFault("unknown", "visit", visitId);
  const problems = samplingProblems(
    sent.circulation,
    opened.log.doses[0]?.hoursAgo ?? null,
    mixesLike((await basinById(scope, opened.visit.basinId))?.kind),
  );
  const silent = problems.filter((problem) => !sent.ignored.includes(problem));
  if (silent.length > 0) throw new InputFault("unconfirmed", "sampling", sent.circulation, silent);
  await keepBeforeTests(scope, visitId, { sampling: { circulation: sent.circulation, ignored: problems } });
}
