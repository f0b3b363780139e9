import type { Figure, Notice, Quantity } from "#core";

import { bathingReason, safetyWords } from "./en-safety";

/** The judgement in English: what the readings say together, and why. */

export interface NoticeText {
  /** One short sentence. */
  says: string;
  /** The reason, on demand. */
  why: string;
}

/** Writers of numbers with their units, as the firm has them. */
export interface Writers {
  value: (quantity: Quantity, value: number) => string;
  /** A limit, as finely as a test tells it. */
  limit: (quantity: Quantity, value: number) => string;
  name: (quantity: Quantity) => string;
  signed: (value: number) => string;
  plain: (value: number, most: number) => string;
  mass: (grams: number) => string;
  days: (days: number) => string;
  product: (notice: Extract<Notice, { product: unknown }>) => string;
}

export function noticeText(notice: Notice, write: Writers): NoticeText {
  const { value, limit, name, signed, plain } = write;
  const fc = (amount: number) => value("freeChlorine", Number(amount.toPrecision(2)));
  switch (notice.code) {
    case "basin.closed":
    case "basin.untested":
      return {
        says: `${notice.code === "basin.closed" ? safetyWords.safety.closed : safetyWords.safety.untested} ${notice.because
          // Closed before today's rules, a visit told only the codes.
          .flatMap((reason) => (typeof reason === "string" ? [] : [bathingReason(reason, write)]))
          .join(" ")}`.trim(),
        why: `It opens again when a test reads in range: ${notice.reopens
          .map(({ quantity, low, high }) =>
            low !== null && high !== null
              ? `${name(quantity)} reads ${limit(quantity, low)} to ${limit(quantity, high)}`
              : low !== null
                ? `${name(quantity)} reads at least ${limit(quantity, low)}`
                : `${name(quantity)} reads at most ${limit(quantity, high ?? 0)}`,
          )
          .join(", ")}. A local code or the health authority may ask for more.`,
      };
    case "basin.urgent":
      return safetyWords.safety.urgent(notice.trouble);
    case "water.hot":
      return safetyWords.safety.hot(
        value("temperature", notice.temperature),
        limit("temperature", notice.limit),
      );
    case "water.cold":
      return safetyWords.safety.cold(
        value("temperature", notice.temperature),
        limit("temperature", notice.limit),
      );
    case "cell.low-salt":
      return {
        says: `Salt is ${value("salt", notice.salt)}: the cell gives little chlorine.`,
        why: `The cell wants at least ${value("salt", notice.least)}. Turn it off, add salt, let it dissolve for a day with the pump on, then turn it on and test.`,
      };
    case "cell.cold":
      return {
        says: `The water is ${value("temperature", notice.temperature)}: the cell gives little chlorine.`,
        why: `Under ${limit("temperature", notice.limit)} most cells slow down or stop. Use liquid chlorine until it warms up.`,
      };
    case "reading.other-sanitiser":
      return {
        says: `${name(notice.quantity)} was read, and this basin does not use it.`,
        why: "Test what keeps this water clean. Never add a second kind of sanitizer before you know which one is in there.",
      };
    case "chlorine.weak":
      return {
        says: `Free chlorine is in range, but little of it is active: HOCl ${plain(notice.hypochlorousAcid, 3)} mg/L.`,
        why: `Stabilizer holds most of it in reserve. Range sets based on HOCl ask for at least ${plain(notice.floor, 2)} mg/L, which takes ${fc(notice.needed)} of free chlorine in this water.`,
      };
    case "chlorine.overstabilised":
      return {
        says: `Stabilizer is ${value("cyanuricAcid", notice.cyanuricAcid)}: it takes more chlorine for the same effect.`,
        why: `Above ${value("cyanuricAcid", notice.limit)} most chlorine is held back. Here it takes ${fc(notice.needed)} to do what 2 ppm do at a stabilizer of 30 ppm. Only replacing water lowers stabilizer.`,
      };
    case "saturation.low":
      return {
        says: `Saturation index ${signed(notice.index.full.corrected)}: the water dissolves plaster and grout and attacks heaters.`,
        why: `Below ${signed(notice.limit)} it etches. This basin could dissolve about ${write.mass(-notice.calcite * 1000)} of calcite. Raise hardness, alkalinity or pH: first what is out of range.`,
      };
    case "saturation.high":
      return {
        says: `Saturation index ${signed(notice.index.full.corrected)}: the water forms scale and turns cloudy.`,
        why: `Above ${signed(notice.limit)} scale forms first where it is hot: heaters and salt cells. This basin could form about ${write.mass(notice.calcite * 1000)} of scale. Lower pH or alkalinity: first what is out of range.`,
      };
    case "saturation.correction-decides":
      return {
        says: `The saturation index is ${signed(notice.index.full.titrated)} with total alkalinity and ${signed(notice.index.full.corrected)} with carbonate alkalinity. The results differ.`,
        why: `Total alkalinity includes stabilizer and borate, but only the carbonate part buffers and forms scale. Pelagon uses the carbonate part. Many charts do not.`,
      };
    case "reading.bounded":
      return {
        says: `${name(notice.quantity)} is off its scale: ${notice.bound === "at-least" ? "at least" : "at most"} ${value(notice.quantity, notice.value)}.`,
        why: "The real value is not known, so no dose is worked out from it. Dilute the sample, use another test, or count the demand drops for pH.",
      };
    case "reading.carried":
      return {
        says: `${name(notice.quantity)} ${value(notice.quantity, notice.value)} is from ${write.days(notice.daysAgo)} ago.`,
        why: "It was not tested today. Amounts are worked out with it, and the verdict leaves it out.",
      };
    case "demand.disagrees":
      return {
        says: `The demand test and the calculation disagree: ${plain(notice.byDrops, 2)} and ${plain(notice.byModel, 2)} meq/L.`,
        why: `They are ${plain(notice.deviations, 1)} standard deviations apart. Both are per liter, so the volume is not the cause. Test pH and alkalinity again, check the age of the demand reagent, and ask whether the water has borate.`,
      };
    case "cause.stabiliser-from-chlorine":
      return {
        says: `Stabilizer came with the ${write.product(notice)}: about ${value("cyanuricAcid", Math.round(notice.brought))} in ${write.days(notice.days)}.`,
        why: `The book shows ${write.mass(notice.grams)} of it. Stabilizer does not evaporate. Chlorine without stabilizer adds none.${aMonth(notice.own, plain)}`,
      };
    case "cause.calcium-from-chlorine":
      return {
        says: `Calcium came with the calcium hypochlorite: about ${value("calciumHardness", Math.round(notice.brought))} in ${write.days(notice.days)}.`,
        why: `The book shows ${write.mass(notice.grams)} of it. Calcium does not evaporate. Liquid chlorine adds none.${aMonth(notice.own, plain)}`,
      };
    case "cause.calcium-from-fill":
      return {
        says: `The fill water itself has ${value("calciumHardness", notice.fill)} of calcium.`,
        why: `Water evaporates and leaves its calcium behind. Each top-up adds more. Soften the fill water, or refill with softer water.${aMonth(notice.own, plain)}`,
      };
    case "cause.ph-from-aeration":
      return {
        says:
          notice.sanitiser === "salt-cell"
            ? "The salt cell raises the pH."
            : "Jets and warm water raise the pH.",
        why: `Bubbles drive carbon dioxide out, faster with more alkalinity: ${value("totalAlkalinity", notice.totalAlkalinity)} here. Lower alkalinity slows it.${aDay(notice.own, plain)}`,
      };
    case "cause.combined-from-persulfate":
      return {
        says: `Combined chlorine may be persulfate: some was added ${write.days(notice.hoursAgo / 24)} ago.`,
        why: "A persulfate oxidizer reads as combined chlorine for a day or so. Test again tomorrow before shocking.",
      };
  }
}

export const judgeWords = {
  judge: {
    why: "Why",
    reading: (set: string, limit: string, aim: string) =>
      `${set} asks for ${limit}${aim ? `, best ${aim}` : ""}.`,
    atLeast: (value: string) => `at least ${value}`,
    atMost: (value: string) => `at most ${value}`,
    first: "What to do first",
    also: "What else the readings show",
    carried: "Older or off the scale",
    possible: "Close to a limit",
    mayBe: (name: string, value: string, side: "low" | "high", limit: string, closes: boolean) =>
      `${name} reads ${value} and may be ${side === "low" ? "below" : "above"} ${limit}: the test is not finer.${closes ? " That would close the basin. Test again with a larger sample or another method." : ""}`,
    readBefore: (age: string) => `Tested ${age} ago, not today. Test it before you add anything for it.`,
    readBeforeHolds: (age: string) =>
      `Tested ${age} ago: recent enough to dose for. Test it again when you can.`,
    compare: "Compare with another range set",
    fourWays: "Four ways to work it out",
    full: "Full equilibrium",
    factorSum: "Sum of factors",
    corrected: "carbonate alkalinity",
    titrated: "total alkalinity",
    used: "used here",
    calcite: (mass: string, way: "drop" | "take") =>
      way === "drop"
        ? `It could form about ${mass} of scale.`
        : `It could dissolve about ${mass} of calcite.`,
    etching: "etching",
    scaling: "scaling",
    beam: (index: string, verdict: string, low: string, high: string) =>
      `Saturation index ${index}, ${verdict}; balanced from ${low} to ${high}`,
    level: "balanced",
    low: "▼ etching",
    high: "▲ scaling",
  },
  compare: {
    title: "One water, two range sets",
    hint: "The same readings judged by two range sets. Where they differ, the sets differ, not the water.",
    left: "This set",
    right: "Compared with",
    show: "Compare",
    in: "in range",
    low: "▼ low",
    high: "▲ high",
    closed: "closes",
    none: "no range",
    notRead: "not read",
    free: "Free chlorine it asks for here",
    saturation: "Saturation window",
    noWater: "This basin has no readings yet. Test it first, then compare.",
  },
};

/** The limits of a range in words. */
export const rangeText = (
  range: { low?: number; high?: number } | undefined,
  text: (value: number) => string,
): string =>
  !range || (range.low === undefined && range.high === undefined)
    ? judgeWords.compare.none
    : range.low === undefined
      ? judgeWords.judge.atMost(text(range.high ?? 0))
      : range.high === undefined
        ? judgeWords.judge.atLeast(text(range.low))
        : `${text(range.low)} to ${text(range.high)}`;

/** What this very basin does, by its own log. */
const aMonth = (own: Figure | undefined, plain: Writers["plain"]): string =>
  own
    ? ` Here it rises by about ${plain(own.value, 0)} ppm a month (${plain(own.low, 0)} to ${plain(own.high, 0)}).`
    : "";
const aDay = (own: Figure | undefined, plain: Writers["plain"]): string =>
  own
    ? ` Here it rises by about ${plain(own.value, 2)} a day (${plain(own.low, 2)} to ${plain(own.high, 2)}).`
    : "";
