import type { Quantity } from "../measure/quantity";
import { hoursSince } from "../products/hours-since";
import { type DatedReading, waterFromReadings } from "../reading/from-readings";
import { ask, type Doubt, tell } from "../testing/doubt";
import { carbonateAlkalinity } from "../water/saturation";
import type { TestContext } from "./context";

/** Traps 4 to 9: what the eye meets at the end of a scale, in an indicator, in a tube, at a bottle. */

/** Free chlorine over this bleaches the alkalinity indicator when thiosulfate is forgotten. mg/L */
const INDICATOR_BLEACHES_FROM = 4;
/** A tube reads right between these. °C */
const TUBE_TEMPERATURE = { low: 21, high: 32 } as const;
/** Copper or iron from which the end of the hardness count fades, mg/L: the trade's usual warning. */
const METALS_SPOIL_FROM = 0.2;
const METALS = ["copper", "iron"] as const;
/** How much the cyanurate must hold before it is worth saying. mg/L as CaCO3 */
const WORTH_SAYING = 5;

export function offScale({ method, result }: TestContext): Doubt[] {
  if (!result || result.bound === "within" || method.kind === "turbidity") return [];
  return [tell("result", "off-scale", { value: result.value }, result.bound)];
}

export function indicatorBleached({ method, result, today, last }: TestContext): Doubt[] {
  if (!method.traps?.includes("bleached-indicator")) return [];
  const chlorine = today.freeChlorine?.value ?? last.freeChlorine?.value ?? 0;
  if (chlorine <= INDICATOR_BLEACHES_FROM) return [];
  return result
    ? [ask("indicator-bleached", { chlorine })]
    : [tell("before", "thiosulfate-first", { chlorine })];
}

/** Only the carbonate part of the alkalinity buffers and scales. */
export function cyanurateShare({ method, result, today, last }: TestContext): Doubt[] {
  if (!method.traps?.includes("cyanurate-share") || !result) return [];
  const { water, standing, possible } = waterFromReadings(
    { ...madeBefore(last), ...madeNow({ ...today, totalAlkalinity: result }) },
    { kind: "pool", outdoors: true },
  );
  // The readings cannot belong to one water: the judge says so.
  if (!possible || standing.cyanuricAcid === "assumed" || standing.ph === "assumed") return [];
  const carbonate = carbonateAlkalinity(water);
  return result.value - carbonate < WORTH_SAYING
    ? []
    : [tell("result", "cyanurate-in-alkalinity", { carbonate, cyanuricAcid: water.cyanuricAcid })];
}

type DatedReadings = Partial<Record<Quantity, DatedReading>>;
const madeNow = (readings: TestContext["today"]): DatedReadings =>
  Object.fromEntries(Object.entries(readings).map(([name, one]) => [name, { ...one, kind: "meter" }]));
/** The last pH is near enough for the share that cyanurate takes. */
const madeBefore = (last: TestContext["last"]): DatedReadings =>
  Object.fromEntries(
    Object.entries(last).map(([name, one]) => [
      name,
      { ...one, kind: "meter", daysAgo: name === "ph" ? 0 : one.daysAgo },
    ]),
  );

/**
 * Titrant that goes in ahead of the indicator where metals spoil the endpoint: a third of what is expected.
 * @example aheadDrops(20) // 7
 */
export function aheadDrops(expected: number | null): number {
  return Math.max(3, Math.round((expected ?? 9) / 3));
}

export function metals({ method, result, look, metalsSeen, today, last }: TestContext): Doubt[] {
  if (!method.traps?.includes("metals") || result) return [];
  const most = Math.max(...METALS.map((metal) => today[metal]?.value ?? last[metal]?.value ?? 0));
  if (most >= METALS_SPOIL_FROM) return [tell("before", "metals-expected", undefined, "read")];
  if (metalsSeen) return [tell("before", "metals-expected", undefined, "log")];
  return look?.see.includes("stains") ? [tell("before", "metals-expected", undefined, "stains")] : [];
}

/** A sequestrant holds metals for about a month. Days */
const HOLDS_DAYS = 30;

/** What a sequestrant hides of a metal, and adds to a phosphate. */
export function sequestered({ method, doses }: TestContext): Doubt[] {
  const hours = hoursSince(doses, (product) => product === "sequestrant");
  if (hours === null) return [];
  const days = Math.floor(hours / 24);
  if (days > HOLDS_DAYS) return [];
  if (method.traps?.includes("held-metal")) return [tell("before", "metal-held", { days })];
  if (method.traps?.includes("phosphonate")) return [tell("before", "phosphonate-in-phosphate", { days })];
  return [];
}

export function tube({ method, result, seen, today, last }: TestContext): Doubt[] {
  if (!method.traps?.includes("tube")) return [];
  if (!result) {
    const temperature = today.temperature?.value ?? last.temperature?.value;
    return temperature !== undefined &&
      (temperature < TUBE_TEMPERATURE.low || temperature > TUBE_TEMPERATURE.high)
      ? [tell("before", "tube-temperature", { temperature, ...TUBE_TEMPERATURE })]
      : [];
  }
  const dilution = seen?.kind === "place" ? (seen.dilution ?? 1) : 1;
  if (result.bound === "at-least" && dilution < 4)
    return [ask("tube-over", { dilution, next: dilution === 1 ? 2 : 4 })];
  if (result.bound === "at-most") return [tell("result", "tube-under", { value: result.value })];
  const repeats = seen?.kind === "place" ? (seen.again?.length ?? 0) : 0;
  return repeats === 0 && result.bound === "within" ? [tell("result", "tube-once")] : [];
}

export function technique({ method, result, firstTitration }: TestContext): Doubt[] {
  if (!method.traps?.includes("technique") || result || !firstTitration) return [];
  const powder = method.steps.some((step) => step.measure === "scoops");
  return [tell("before", "technique", undefined, powder ? "powder" : "drops")];
}
