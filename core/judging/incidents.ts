import type { Measurement } from "../measure/quantity";

/**
 * What happens at a basin beside its water: each closes it, stands in the log, and opens it by tests. Figures
 * are those of the United States' Centers for Disease Control for faecal incidents (2018 and later), and of the
 * National Lightning Safety Council; a local procedure outranks them.
 */
export const INCIDENT_KINDS = [
  "stool-formed",
  "stool-loose",
  "vomit",
  "blood",
  "legionella",
  "gas",
  "chemical-skin",
  "chemical-eyes",
  "chemical-swallowed",
  "chemical-inhaled",
  "glass",
  "lightning",
] as const;
export type IncidentKind = (typeof INCIDENT_KINDS)[number];

/** Somebody who was hurt: help comes before the water. */
export const HURTS = [
  "gas",
  "chemical-skin",
  "chemical-eyes",
  "chemical-swallowed",
  "chemical-inhaled",
] as const satisfies readonly IncidentKind[];

export interface IncidentRule {
  /** Free chlorine that is held, mg/L, at a pH of at most this, for so long. */
  hold?: { freeChlorine: number; ph: number; minutes: number };
  /** With stabiliser in the water the same takes more, and with much of it cannot be had. mg/L */
  stabilised?: { freeChlorine: number; minutes: number; mostStabiliser: number };
  /** Minutes without bathers from the moment it happened, whatever the water. */
  quietMinutes?: number;
  /** Who says that it is over: whoever works here, or somebody who must be named. */
  decides: "technician" | "authority" | "fire-service";
}

/** pH over this slows chlorine down: CDC's tables hold up to it. */
const PH = 7.5;

export const INCIDENTS: Readonly<Record<IncidentKind, IncidentRule>> = {
  // Giardia: CDC, 2 mg/L for 25 minutes at 25 °C, pH 7.5 or less.
  "stool-formed": { hold: { freeChlorine: 2, ph: PH, minutes: 25 }, decides: "technician" },
  vomit: { hold: { freeChlorine: 2, ph: PH, minutes: 25 }, decides: "technician" },
  // Cryptosporidium: CDC, 20 mg/L for 12.75 h (15 300 mg·min/L); with up to 15 mg/L of stabiliser 20 for 28 h.
  "stool-loose": {
    hold: { freeChlorine: 20, ph: PH, minutes: 765 },
    stabilised: { freeChlorine: 20, minutes: 1680, mostStabiliser: 15 },
    decides: "technician",
  },
  // CDC: chlorine in its range takes care of blood; the water is tested before it is opened again.
  blood: { decides: "technician" },
  legionella: { decides: "authority" },
  gas: { decides: "fire-service" },
  "chemical-skin": { decides: "technician" },
  "chemical-eyes": { decides: "technician" },
  "chemical-swallowed": { decides: "technician" },
  "chemical-inhaled": { decides: "technician" },
  glass: { decides: "technician" },
  // National Lightning Safety Council: half an hour after the last thunder.
  lightning: { quietMinutes: 30, decides: "technician" },
};

/** An incident in the book. */
export interface Incident {
  id: string;
  kind: IncidentKind;
  at: Date;
  by: string;
  note: string;
  /** When it was declared over, by whom, and who was named as having decided it. */
  over: { at: Date; by: string; who: string } | null;
}

interface Tested extends Pick<Measurement, "value" | "bound"> {
  quantity: string;
  takenAt: Date;
}

export type NotOver =
  | { code: "too-soon"; minutes: number }
  | { code: "not-held"; freeChlorine: number; ph: number }
  | { code: "stabiliser-too-high"; most: number }
  | { code: "nobody-named" };

/**
 * Why an incident cannot be declared over yet; null when it can.
 * @param readings of the visit, those that stood before others too
 * @param stabiliser mg/L
 * @param who was named as having decided it
 * @example whyNotOver(lightning, { now, readings: [], stabiliser: 0, who: "" })?.code // "too-soon"
 */
export function whyNotOver(
  { kind, at }: Pick<Incident, "kind" | "at">,
  {
    now,
    readings,
    stabiliser,
    who,
  }: { now: Date; readings: readonly Tested[]; stabiliser: number; who: string },
): NotOver | null {
  const rule = INCIDENTS[kind];
  const minutesSince = (then: Date) => (now.getTime() - then.getTime()) / 60_000;
  if (rule.decides !== "technician" && who.trim() === "") return { code: "nobody-named" };
  if (rule.quietMinutes !== undefined && minutesSince(at) < rule.quietMinutes)
    return { code: "too-soon", minutes: Math.ceil(rule.quietMinutes - minutesSince(at)) };
  const { hold } = rule;
  if (!hold) return null;
  const isStabilised = rule.stabilised !== undefined && stabiliser > 0;
  if (rule.stabilised && stabiliser > rule.stabilised.mostStabiliser)
    return { code: "stabiliser-too-high", most: rule.stabilised.mostStabiliser };
  const { freeChlorine, minutes } = isStabilised ? { ...hold, ...rule.stabilised } : hold;
  const since = readings.filter(({ takenAt }) => takenAt >= at);
  const held = since.filter(
    ({ quantity, value, bound }) =>
      quantity === "freeChlorine" && bound !== "at-most" && value >= freeChlorine,
  );
  const acid = since.filter(
    ({ quantity, value, bound }) => quantity === "ph" && bound !== "at-least" && value <= hold.ph,
  );
  // The clock runs from the first test that shows both; chlorine that fell away in between was read, too.
  const begun = held[0] && acid[0] ? new Date(Math.max(+held[0].takenAt, +acid[0].takenAt)) : null;
  if (!begun) return { code: "not-held", freeChlorine, ph: hold.ph };
  const fell = since.some(
    ({ quantity, value, takenAt }) =>
      quantity === "freeChlorine" &&
      takenAt > begun &&
      value < freeChlorine &&
      (takenAt.getTime() - begun.getTime()) / 60_000 < minutes,
  );
  if (fell) return { code: "not-held", freeChlorine, ph: hold.ph };
  return minutesSince(begun) < minutes
    ? { code: "too-soon", minutes: Math.ceil(minutes - minutesSince(begun)) }
    : null;
}
