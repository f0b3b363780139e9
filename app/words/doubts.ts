import {
  type Doubt,
  type DoubtCode,
  type Due,
  type Quantity,
  type SampleAdvice,
  type Step,
  temperatureIn,
  UNIT_SYSTEMS,
  type UnitSystem,
} from "#core";
import { fill, words } from "./language";
import { shipped } from "./names";
import { durationText, figuresText, numberText } from "./numbers";

/** What speaks against a test, why it is due, and its steps. */

/** A doubt in a few words, where its numbers are not at hand. */
export const doubtName = (code: DoubtCode): string =>
  code in words.doubts.name ? words.doubts.name[code as keyof typeof words.doubts.name] : code;

/** What a button says that keeps a reading in spite of a doubt. */
export const doubtKeep = (code: DoubtCode): string =>
  code in words.doubts.keep
    ? words.doubts.keep[code as keyof typeof words.doubts.keep]
    : words.doubts.keep.other;

/** What a button says that goes back to the test. */
export const doubtBack = (code: DoubtCode): string =>
  code in words.doubts.back
    ? words.doubts.back[code as keyof typeof words.doubts.back]
    : words.doubts.back.other;

const UNKNOWN = "?";
const ppm = (value: number | undefined, figures = 3): string =>
  value === undefined ? UNKNOWN : figuresText(value, figures);

const degrees = (celsius: number | undefined, units: UnitSystem): string =>
  celsius === undefined
    ? UNKNOWN
    : UNIT_SYSTEMS[units].heat === "F"
      ? `${numberText(temperatureIn(celsius, "F"), 0)} °F`
      : `${figuresText(celsius)} °C`;

const whole = (days: number | undefined): number => Math.max(1, Math.round(days ?? 0));

/** A doubt as one or two short sentences: what it is, then what to do. */
export function doubtText(doubt: Doubt, quantity: Quantity, units: UnitSystem): string {
  const said = words.doubts.text;
  const n = doubt.numbers ?? {};
  const because = doubt.because ?? "";
  const value = (one: number | undefined): string =>
    quantity === "temperature" ? degrees(one, units) : ppm(one, 4);
  switch (doubt.code) {
    case "chlorine-bleached":
      return said[doubt.code]({ evidence: bleachEvidence(doubt) });
    case "persulfate-in-combined":
      return said[doubt.code]({ hours: Math.round(n.hours ?? 0) });
    case "chlorine-purples-ph":
      return said[doubt.code][doubt.moment]({ chlorine: ppm(n.chlorine) });
    case "off-scale": {
      const bound = because === "at-least" ? "high" : "low";
      return quantity === "ph" ? said[doubt.code].ph({ bound }) : said[doubt.code].value({ bound });
    }
    case "thiosulfate-first":
    case "indicator-bleached":
      return said[doubt.code]({ chlorine: ppm(n.chlorine) });
    case "cyanurate-in-alkalinity": {
      const carbonate = n.carbonate ?? 0;
      return said[doubt.code]({
        carbonate: ppm(carbonate < 10 ? carbonate : Math.round(carbonate)),
        cyanuricAcid: ppm(n.cyanuricAcid),
      });
    }
    case "metals-expected":
      return said[doubt.code]({ because: because === "log" || because === "read" ? because : "stains" });
    case "metal-held":
    case "phosphonate-in-phosphate":
      return said[doubt.code]({ days: whole(n.days) });
    case "tube-temperature":
      return said[doubt.code]({
        temperature: degrees(n.temperature, units),
        low: degrees(n.low, units),
        high: degrees(n.high, units),
      });
    case "tube-over":
      return said[doubt.code]({ next: n.next === 2 ? "two" : "four" });
    case "tube-under":
    case "tube-once":
      return said[doubt.code];
    case "technique":
      return because === "powder" ? said.technique.powder : said.technique.drops;
    case "reagent-expired":
      return said[doubt.code]({ reagent: shipped(because), days: whole(n.days) });
    case "reagent-last-season":
    case "reagent-empty":
      return said[doubt.code]({ reagent: shipped(because) });
    case "shift-across-basins": {
      const share = n.share ?? 0;
      return said[doubt.code]({
        share: numberText(Math.abs(100 * share), 0),
        side: share > 0 ? "high" : "low",
        basins: n.basins ?? 0,
      });
    }
    case "combined-over-total":
      return said[doubt.code]({ combined: ppm(n.combined), total: ppm(n.total) });
    case "free-over-total":
      return said[doubt.code]({ free: ppm(n.free), total: ppm(n.total) });
    case "other-sample-size":
      return said[doubt.code]({ now: ppm(n.now), before: ppm(n.before) });
    case "far-from-expected":
      return said[doubt.code]({ now: value(n.now), low: ppm(n.low), high: ppm(n.high) });
    case "unlikely-change":
      return said[doubt.code]({ now: value(n.now), days: whole(n.days), before: value(n.before) });
  }
}

function bleachEvidence({ because, numbers = {} }: Doubt): string {
  const said = words.doubts.text.bleached;
  switch (because) {
    case "dose":
      return said.dose({ brought: ppm(numbers.brought, 2) });
    case "last":
      return said.last({ before: ppm(numbers.before) });
    case "other-test":
      return said["other-test"]({ other: ppm(numbers.other) });
    default:
      return said.smell;
  }
}

/** Why a test stands open today, or when it comes round again. */
export function dueText(due: Due): string {
  if (!due.due)
    return due.station === "acidDemand" || due.station === "baseDemand"
      ? words.due.whenPhOff
      : due.nextIn === null
        ? words.due.whenWanted
        : words.due.notYet({ days: whole(due.nextIn) });
  const { reason } = due;
  return reason.because === "interval"
    ? words.due.interval({ every: whole(reason.every), daysAgo: whole(reason.daysAgo) })
    : words.due[reason.because];
}

/** Why a size of the sample is offered. */
export const sampleWhy = ({ because, millilitres, expected }: SampleAdvice): string =>
  because in words.bench.sampleWhy
    ? fill(words.bench.sampleWhy[because as keyof typeof words.bench.sampleWhy], {
        millilitres,
        expected: expected ?? 0,
      })
    : words.bench.sampleWhy.other;

/** @example stepSentence(step) // "5 drops of alkalinity indicator, swirl." */
export function stepSentence({ reagent, amount, measure, mix, wait }: Step): string {
  const what = words.step.what[measure]({ amount, reagent: shipped(reagent) });
  return wait
    ? words.step.withWait({
        mix,
        what,
        time: wait < 100 ? words.durations.seconds({ count: wait }) : durationText(wait),
      })
    : words.step.sentence({ mix, what });
}
