import {
  type Advice,
  adviseEach,
  balanceOf,
  demandBeside,
  type Finding,
  InputFault,
  mayActOn,
  mixesLike,
  type Notice,
  noticesOf,
  type WaterBalance,
} from "#core";
import type { Author } from "../author";
import type { FirmScope } from "../db/connection";
import { saveDose, saveFindings } from "../db/doses";
import { endPlan } from "../db/plans";
import type { StoredReading } from "../db/readings";
import { finishVisit, setNote, type Visit } from "../db/visits";
import type { WeatherDay } from "../standins/weather";
import { LONGEST_NOTE } from "./schemas";
import {
  byQuantity,
  carriedInto,
  demandTarget,
  findingsCarried,
  findingsNow,
  findingsOverall,
  holdOpenVisit,
  holdVisit,
  type OpenedVisit,
  openVisit,
  possibleNow,
} from "./visit";

const DAY = 86_400_000;

export interface Judgement {
  findings: Finding[];
  /** Inside as written; the bracket reaches over a limit. */
  possible: Finding[];
  /** Out of their ranges when they were last read, and not tested today. */
  outBefore: Finding[];
  /** What the readings say together, and the log beside them. */
  notices: Notice[];
  advice: Advice[];
  /** How the water stands as a whole; null while readings for it are missing. */
  balance: WaterBalance | null;
  /** Acid or base by drops and by the model, where drops were counted. */
  demand: ReturnType<typeof demandBeside>;
  /** Quantities that were not tested today and stand in from earlier for the amounts. */
  carried: StoredReading[];
  /** Read today, but not to be acted on. */
  setAside: StoredReading[];
}

/** Judges what was measured in this visit; what was not tested is carried into the amounts only. */
export function judge(opened: OpenedVisit): Judgement {
  const { visit, basin, products } = opened;
  const readings = opened.readings.filter((reading) => mayActOn(reading.doubts));
  const carried = carriedInto(opened);
  const found = findingsNow(opened);
  const fill = basin.site.fillHardness;
  const balance = balanceOf(opened.known);
  const today = byQuantity(readings);
  const target = demandTarget(opened);
  return {
    findings: found,
    possible: possibleNow(opened),
    outBefore: findingsCarried(opened),
    notices: noticesOf({
      findings: found,
      readings: today,
      carried: carried
        .filter((reading) => reading.quantity in opened.ranges)
        .map(({ quantity, value, takenAt }) => ({
          quantity,
          value,
          daysAgo: (visit.startedAt.getTime() - takenAt.getTime()) / DAY,
        })),
      balance,
      set: opened.rangeSet,
      ranges: opened.ranges,
      litres: visit.litres,
      demandTarget: target,
      doses: opened.log.doses,
      fillHardness: fill,
      sanitiser: basin.sanitiser,
      kind: mixesLike(basin.kind),
    }),
    carried,
    setAside: opened.readings.filter((reading) => !mayActOn(reading.doubts)),
    balance,
    demand: balance && target !== null ? demandBeside(balance.water, balance.spreads, today, target) : null,
    advice: adviseEach({
      findings: found,
      readings: { ...byQuantity(carried), ...today },
      known: opened.known,
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
  const advice = judge(opened).advice.find((one) => one.kind === "dose" && one.finding.code === sent.code);
  if (advice?.kind !== "dose") throw new InputFault("unknown", "code", sent.code);
  await saveDose(scope, author.firmId, author.memberId, {
    id: sent.id,
    visitId,
    productId: product.id,
    code: sent.code,
    plannedGrams: advice.grams,
    givenGrams: sent.givenGrams,
    givenAt: author.now,
  });
}

/**
 * Closes the visit: findings are written as they stand, the note is kept. One that somebody else closed
 * stays as they closed it; a note made here is added to theirs.
 * @returns "now", or "before" when it was closed already
 */
export async function closeVisit(
  scope: FirmScope,
  author: Author,
  visitId: string,
  note: string,
  weather: WeatherDay | null = null,
): Promise<"now" | "before"> {
  const visit = await holdVisit(scope, visitId);
  if (visit.finishedAt) {
    if (note !== "" && note !== visit.note) await addToNote(scope, visit, note);
    return "before";
  }
  const opened = await openVisit(scope, visitId, author.now);
  if (!opened) throw new InputFault("unknown", "visit", visitId);
  if (opened.readings.length === 0) throw new InputFault("missing", "readings", 0, 1);
  await saveFindings(scope, author.firmId, visitId, findingsOverall(opened));
  await endPlan(scope, visitId, "", author.now);
  // A clock that was put back does not keep a visit open.
  const at = author.now < visit.startedAt ? visit.startedAt : author.now;
  await finishVisit(scope, visitId, { note, notices: judge(opened).notices, weather }, at);
  return "now";
}

async function addToNote(scope: FirmScope, visit: Visit, note: string): Promise<void> {
  const both = visit.note === "" ? note : `${visit.note}\n${note}`;
  if (both.length > LONGEST_NOTE) throw new InputFault("too-long", "note", both.length, LONGEST_NOTE);
  await setNote(scope, visit.id, both);
}
