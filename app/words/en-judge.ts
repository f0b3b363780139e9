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
        says: `Free chlorine is in its band, but little of it kills: HOCl ${plain(notice.hypochlorousAcid, 3)} mg/L.`,
        why: `Stabiliser holds most of it as reserve. The school that goes by the acid that kills wants at least ${plain(notice.floor, 2)} mg/L, which takes ${fc(notice.needed)} of free chlorine in this water.`,
      };
    case "chlorine.overstabilised":
      return {
        says: `Stabiliser is at ${value("cyanuricAcid", notice.cyanuricAcid)}: more chlorine for the same work.`,
        why: `Above ${value("cyanuricAcid", notice.limit)} the fixed-band school calls the chlorine wasted, and far above it locked. It takes ${fc(notice.needed)} here for what 2 ppm do at 30. Only other water brings stabiliser down.`,
      };
    case "saturation.low":
      return {
        says: `Saturation ${signed(notice.index.full.corrected)}: the water takes calcite from plaster, grout and heaters.`,
        why: `Below ${signed(notice.limit)} it etches. This basin could take up about ${write.mass(-notice.calcite * 1000)} of calcite. Raise hardness, alkalinity or pH, by what is out of range first.`,
      };
    case "saturation.high":
      return {
        says: `Saturation ${signed(notice.index.full.corrected)}: the water drops scale and clouds.`,
        why: `Above ${signed(notice.limit)} scale forms first where it is hot: heaters and salt cells. This basin could drop about ${write.mass(notice.calcite * 1000)} of calcite. Lower pH or alkalinity, by what is out of range first.`,
      };
    case "saturation.correction-decides":
      return {
        says: `As titrated the index would be ${signed(notice.index.full.titrated)}, corrected it is ${signed(notice.index.full.corrected)}: the verdict differs.`,
        why: `Titrated alkalinity counts stabiliser and borate too, but only the carbonate part buffers and scales. Pelagon goes by the corrected one; many sheets still do not.`,
      };
    case "reading.bounded":
      return {
        says: `${name(notice.quantity)} ran off its scale: ${notice.bound === "at-least" ? "at least" : "at most"} ${value(notice.quantity, notice.value)}.`,
        why: "A bound is not a number: nothing is worked out from it. Dilute the sample, take another test, or count the demand drops for pH.",
      };
    case "reading.carried":
      return {
        says: `${name(notice.quantity)} ${value(notice.quantity, notice.value)} is carried, from ${write.days(notice.daysAgo)} ago.`,
        why: "It was not tested today. It stands in for the amounts, and the judgement leaves it out.",
      };
    case "demand.disagrees":
      return {
        says: `Demand drops and the model do not agree: ${plain(notice.byDrops, 2)} against ${plain(notice.byModel, 2)} meq/L.`,
        why: `They lie ${plain(notice.deviations, 1)} standard deviations apart. Both are for a litre, so the volume is not to blame: test pH and alkalinity again, look at the demand reagent's age, and ask whether borate is in the water.`,
      };
    case "cause.stabiliser-from-chlorine":
      return {
        says: `Stabiliser came with the ${write.product(notice)}: about ${value("cyanuricAcid", Math.round(notice.brought))} in ${write.days(notice.days)}.`,
        why: `${write.mass(notice.grams)} of it went in by the book. It does not evaporate; a chlorine without stabiliser adds none.${aMonth(notice.own, plain)}`,
      };
    case "cause.calcium-from-chlorine":
      return {
        says: `Calcium came with the calcium hypochlorite: about ${value("calciumHardness", Math.round(notice.brought))} in ${write.days(notice.days)}.`,
        why: `${write.mass(notice.grams)} of it went in by the book. Calcium does not evaporate; liquid chlorine adds none.${aMonth(notice.own, plain)}`,
      };
    case "cause.calcium-from-fill":
      return {
        says: `The fill water has ${value("calciumHardness", notice.fill)} of calcium itself.`,
        why: `Every top-up for what evaporates leaves its calcium behind. Soften the fill, or replace with softer water.${aMonth(notice.own, plain)}`,
      };
    case "cause.ph-from-aeration":
      return {
        says:
          notice.sanitiser === "salt-cell"
            ? "The salt cell drives the pH up."
            : "Jets and warmth drive the pH up.",
        why: `Bubbles carry carbon dioxide out, the faster the more alkalinity there is: ${value("totalAlkalinity", notice.totalAlkalinity)} here. A lower alkalinity slows it.${aDay(notice.own, plain)}`,
      };
    case "cause.combined-from-persulfate":
      return {
        says: `Combined chlorine may be persulfate: some went in ${write.days(notice.hoursAgo / 24)} ago.`,
        why: "A persulfate oxidiser reads as combined chlorine for a day or so. Test again tomorrow before shocking.",
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
    also: "What else the water says",
    carried: "Carried and bounded",
    possible: "Near an edge",
    mayBe: (name: string, value: string, side: "low" | "high", limit: string, closes: boolean) =>
      `${name} reads ${value} and may lie ${side === "low" ? "under" : "over"} ${limit}: the test is no finer.${closes ? " That far it would close the basin: test again with a larger sample or another method." : ""}`,
    readBefore: (age: string) => `Read ${age} ago and not today: test it before anything is done for it.`,
    readBeforeHolds: (age: string) =>
      `Read ${age} ago: recent enough to dose for, and to be tested again when you can.`,
    compare: "The same water under another set",
    fourWays: "Four ways of working it out",
    full: "Full equilibrium",
    factorSum: "Sum of factors",
    corrected: "alkalinity corrected",
    titrated: "as titrated",
    used: "used here",
    calcite: (mass: string, way: "drop" | "take") =>
      way === "drop"
        ? `It could drop about ${mass} of calcite.`
        : `It could take up about ${mass} of calcite.`,
    etching: "etching",
    scaling: "scaling",
    beam: (index: string, verdict: string, low: string, high: string) =>
      `Saturation index ${index}, ${verdict}; balanced from ${low} to ${high}`,
    level: "balanced",
    low: "▼ etching",
    high: "▲ scaling",
  },
  compare: {
    title: "One water, two schools",
    hint: "The same readings judged by two sets. Where they part ways, the difference is in the school, not in the water.",
    left: "This set",
    right: "Beside it",
    show: "Compare",
    in: "in range",
    low: "▼ low",
    high: "▲ high",
    closed: "closes",
    none: "no range",
    notRead: "not read",
    free: "Free chlorine that it asks for here",
    saturation: "Saturation window",
    noWater: "This basin has no readings yet. Test once, then compare.",
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
    ? ` Here it climbs by about ${plain(own.value, 0)} ppm a month (${plain(own.low, 0)} to ${plain(own.high, 0)}).`
    : "";
const aDay = (own: Figure | undefined, plain: Writers["plain"]): string =>
  own
    ? ` Here it climbs by about ${plain(own.value, 2)} a day (${plain(own.low, 2)} to ${plain(own.high, 2)}).`
    : "";
