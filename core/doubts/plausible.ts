import type { Measurement, Quantity } from "../measure/quantity";
import { effectPerGram } from "../products/products";
import { ask, type Doubt } from "../testing/doubt";
import { NINETY } from "../uncertainty/normal";
import { asRead } from "../water/molar";
import type { RecentDose, TestContext } from "./context";

/** Trap 11: what cannot be, and what no basin does in that time. */

/** How close to 2.5 (or 1 / 2.5) two results must stand to smell of the other sample size's factor. */
const FACTOR_NEARNESS = 0.08;

/**
 * The most a reading changes by itself: at once (test scatter and a busy day) and for each further
 * day, in its own unit. Doses are reckoned on top. Chlorine comes and goes; it has no such limit.
 */
const MOST_CHANGE: Partial<Record<Quantity, { atOnce: number; aDay: number }>> = {
  ph: { atOnce: 0.8, aDay: 0.1 },
  totalAlkalinity: { atOnce: 30, aDay: 3 },
  calciumHardness: { atOnce: 60, aDay: 4 },
  cyanuricAcid: { atOnce: 25, aDay: 1 },
  salt: { atOnce: 800, aDay: 40 },
  totalDissolvedSolids: { atOnce: 500, aDay: 40 },
  temperature: { atOnce: 8, aDay: 1.5 },
};

export function contradictions({ method, result, today }: TestContext): Doubt[] {
  if (!result) return [];
  const free = method.quantity === "freeChlorine" ? result : today.freeChlorine;
  const total = method.quantity === "totalChlorine" ? result : today.totalChlorine;
  const combined = method.quantity === "combinedChlorine" ? result : today.combinedChlorine;
  if (free && total && method.quantity !== "combinedChlorine" && free.value > total.value)
    return total.bound === "at-least"
      ? []
      : [ask("free-over-total", { free: free.value, total: total.value })];
  if (combined && total && method.quantity === "combinedChlorine" && combined.value > total.value)
    return total.bound === "at-least"
      ? []
      : [ask("combined-over-total", { combined: combined.value, total: total.value })];
  return [];
}

export function otherSampleSize({ method, result, last }: TestContext): Doubt[] {
  if (!result || method.kind !== "titration" || method.samples.length < 2) return [];
  const before = last[method.quantity];
  if (before?.bound !== "within" || before.value <= 0 || result.value <= 0) return [];
  const factors = method.samples.map((size) => size.factor);
  const ratios = factors.flatMap((a) => factors.map((b) => a / b)).filter((ratio) => ratio !== 1);
  const ratio = result.value / before.value;
  const near = ratios.find((other) => Math.abs(ratio / other - 1) <= FACTOR_NEARNESS);
  // Chlorine swings by that much on any day; only a slow quantity gives a slip away.
  if (!near || method.quantity === "freeChlorine" || method.quantity === "combinedChlorine") return [];
  return [ask("other-sample-size", { now: result.value, before: before.value, ratio })];
}

/** What these doses change of a reading by themselves, mg/L. */
function broughtBy(quantity: Quantity, doses: readonly RecentDose[], withinDays: number): number {
  return doses
    .filter((dose) => dose.hoursAgo <= withinDays * 24)
    .reduce((sum, dose) => {
      const effect = effectPerGram(dose);
      const share = dose.grams / dose.litres;
      switch (quantity) {
        case "totalAlkalinity":
          return sum + asRead.alkalinity((effect.alkalinity - effect.chlorine) * share);
        case "calciumHardness":
          return sum + asRead.calcium(effect.calcium * share);
        case "cyanuricAcid":
          return sum + asRead.cyanurate(effect.cyanurate * share);
        default:
          return sum;
      }
    }, 0);
}

/** How much a dose of acid or base may move pH besides, for any dose at all. */
const PH_BY_DOSE = 1;

/** Deviations off that nobody takes for scatter. */
const FAR = 3.5;
/** What a test may be off by itself, as a standard deviation: a share of the value, and in its unit. */
const SCATTER: Partial<Record<Quantity, { share: number; least: number }>> = {
  freeChlorine: { share: 0.05, least: 0.15 },
  ph: { share: 0, least: 0.06 },
  totalAlkalinity: { share: 0.04, least: 3 },
  calciumHardness: { share: 0.04, least: 5 },
  cyanuricAcid: { share: 0.1, least: 4 },
};

/** The basin's own habits make something else expect: the same sample with another bottle would tell. */
export function farFromExpected({ method, result, expected }: TestContext): Doubt[] {
  const figure = expected[method.quantity];
  const scatter = SCATTER[method.quantity];
  if (!result || !figure || !scatter || result.bound !== "within") return [];
  const half = Math.max(figure.high - figure.value, figure.value - figure.low) / NINETY;
  const width = ((result.high ?? result.value) - (result.low ?? result.value)) / Math.sqrt(12);
  const own = Math.max(scatter.least, scatter.share * result.value);
  const off = (result.value - figure.value) / Math.hypot(half, width, own);
  if (Math.abs(off) < FAR) return [];
  return [ask("far-from-expected", { now: result.value, low: figure.low, high: figure.high })];
}

export function unlikelyChange({ method, result, last, doses, expected }: TestContext): Doubt[] {
  // A basin with habits of its own is held to those.
  if (expected[method.quantity]) return [];
  const before = last[method.quantity];
  const most = MOST_CHANGE[method.quantity];
  if (!result || !before || !most || before.bound !== "within" || result.bound !== "within") return [];
  const slack = most.atOnce + most.aDay * Math.min(before.daysAgo, 60);
  const brought = broughtBy(method.quantity, doses, before.daysAgo);
  const dosedPh =
    method.quantity === "ph" && doses.some((dose) => effectPerGram(dose).alkalinity !== 0) ? PH_BY_DOSE : 0;
  const change = result.value - before.value;
  const low = Math.min(0, brought) - slack - dosedPh;
  const high = Math.max(0, brought) + slack + dosedPh;
  if (change >= low && change <= high) return [];
  return [ask("unlikely-change", numbers(result, before, before.daysAgo, brought))];
}

const numbers = (now: Measurement, before: Measurement, days: number, brought: number) => ({
  now: now.value,
  before: before.value,
  days,
  brought,
});
