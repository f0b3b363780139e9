import { type Method, type Step, stepsFor } from "../testing/kit";
import { dropSize, type HandEvent, type Light, TOO_LONG } from "./hands";
import type { HiddenWater } from "./hidden";
import { afterHand, afterSeconds, endOf, newVessel, type Vessel } from "./vessel";

/** What went wrong in the hands, told from what they did. */
export type Slip =
  | { code: "over-filled" | "under-filled"; share: number }
  | { code: "left-out"; reagent: string }
  | { code: "heaped" | "scant"; reagent: string; share: number }
  | { code: "wrong-amount"; reagent: string; given: number; amount: number }
  | { code: "wrong-order"; reagent: string }
  | { code: "wrong-reagent"; reagent: string }
  | { code: "not-mixed"; reagent: string }
  | { code: "shaken"; reagent: string }
  | { code: "too-short"; reagent: string; seconds: number; wanted: number }
  | { code: "slanted"; angle: number; share: number }
  | { code: "not-swirled"; drops: number }
  | { code: "waited"; seconds: number }
  | { code: "sun" | "tinted" }
  | { code: "past-end"; drops: number }
  | { code: "short-of-end"; drops: number }
  | { code: "miscounted"; counted: number; fell: number };
export type SlipCode = Slip["code"];

/** What a test was and what hands did in it. */
export interface Worked {
  method: Method;
  water: HiddenWater;
  /** The line that was chosen, mL. */
  line: number;
  events: readonly HandEvent[];
  /** Drops that were counted; null where nothing is. */
  counted: number | null;
  /** Seconds from the last event until the end was called. */
  until: number;
}

/** A bottom of the curve this far off the line is a slip, share. */
const LINE_TOLERANCE = 0.03;
/** An amount this far off is one. */
const AMOUNT_TOLERANCE = 0.25;
/** Counted drops from a bottle held farther off the vertical than this on the mean. */
const SLANT = 20;
/** A drop into a cloud of more than so much of one before it: it was not swirled. */
const CLOUD = 0.5;
/** Of the last so many drops, near the end, all are swirled. */
const LAST_DROPS = 3;
/** A time is kept where so much of it passed. */
export const TIME_SHARE = 0.8;
/** Reagents that are no mistake in any test. */
const HANDLED = new Set(["thiosulfate"]);

/** Each event with the vessel before and after it. */
export interface Done {
  event: HandEvent;
  before: Vessel;
  after: Vessel;
}

/** @example workedThrough({ ...worked, events: [] }).length // 0 */
export function workedThrough({ method, water, line, events }: Worked): Done[] {
  let vessel = newVessel(method, water, line);
  return events.map((event) => {
    const before = vessel;
    vessel = afterHand(vessel, event);
    return { event, before, after: vessel };
  });
}

/**
 * The slips of a test, in the order of its steps. What follows from one is not told as another: who does not
 * swirl goes past the end for it.
 * @example slipsOf(worked)[0].code // "left-out"
 */
export function slipsOf(worked: Worked): Slip[] {
  const through = workedThrough(worked);
  const last = through.at(-1)?.after ?? newVessel(worked.method, worked.water, worked.line);
  const end = afterSeconds(last, worked.until);
  const drops = through.filter(({ event }) => event.kind === "drop");
  return [
    ...fillSlips(worked, end),
    ...reagentSlips(worked, through),
    ...mixSlips(worked, through),
    ...dropSlips(worked, drops, end),
    ...lookSlips(end),
  ];
}

function fillSlips({ line }: Worked, { millilitres }: Vessel): Slip[] {
  if (millilitres <= 0) return [];
  const share = millilitres / line - 1;
  if (share > LINE_TOLERANCE) return [{ code: "over-filled", share }];
  return share < -LINE_TOLERANCE ? [{ code: "under-filled", share }] : [];
}

const stepsAt = ({ method, line }: Worked): Step[] => stepsFor(method, line);

function reagentSlips(worked: Worked, through: readonly Done[]): Slip[] {
  const steps = stepsAt(worked);
  const adds = through.flatMap(({ event }, at) => (event.kind === "add" ? [{ ...event, at }] : []));
  const given = (reagent: string) =>
    adds.reduce((sum, one) => (one.reagent === reagent ? sum + one.amount : sum), 0);
  const firsts = steps.map(({ reagent }) => adds.find((one) => one.reagent === reagent)?.at ?? -1);
  const known = new Set(steps.map(({ reagent }) => reagent));
  return [
    ...steps.flatMap(({ reagent, amount, measure }, index): Slip[] => {
      const some = given(reagent);
      if (some <= 0) return [{ code: "left-out", reagent }];
      const slips: Slip[] = [];
      const share = some / amount - 1;
      if (Math.abs(share) > AMOUNT_TOLERANCE)
        slips.push(
          measure === "scoops"
            ? { code: share > 0 ? "heaped" : "scant", reagent, share }
            : { code: "wrong-amount", reagent, given: some, amount },
        );
      const own = firsts[index] ?? -1;
      if (firsts.slice(0, index).some((earlier) => earlier > own))
        slips.push({ code: "wrong-order", reagent });
      return slips;
    }),
    ...[...new Set(adds.map(({ reagent }) => reagent))]
      .filter((reagent) => !known.has(reagent) && !HANDLED.has(reagent))
      .map((reagent): Slip => ({ code: "wrong-reagent", reagent })),
  ];
}

/** Between the last of a reagent and what comes after it something is mixed, in the way that belongs to it. */
function mixSlips(worked: Worked, through: readonly Done[]): Slip[] {
  const steps = stepsAt(worked);
  const isOurs = (reagent: string) => steps.some((step) => step.reagent === reagent);
  return steps.flatMap(({ reagent, mix, wait }): Slip[] => {
    if (mix === "none") return [];
    const at = through.findLastIndex(({ event }) => event.kind === "add" && event.reagent === reagent);
    if (at < 0) return [];
    const next = through.findIndex(
      ({ event }, index) =>
        index > at &&
        (event.kind === "drop" || event.kind === "tube" || (event.kind === "add" && isOurs(event.reagent))),
    );
    const between = through.slice(at + 1, next < 0 ? undefined : next).map(({ event }) => event);
    const mixes = between.flatMap((event) => (event.kind === "mix" ? [event] : []));
    if (mixes.length === 0) return [{ code: "not-mixed", reagent }];
    const slips: Slip[] = [];
    if (mix !== "shake" && mixes.some(({ how }) => how === "shake")) slips.push({ code: "shaken", reagent });
    const passed =
      mix === "shake"
        ? mixes.reduce((sum, one) => (one.how === "shake" ? sum + one.seconds : sum), 0)
        : secondsAfter(worked, through, at, next);
    if (wait !== undefined && passed < wait * TIME_SHARE)
      slips.push({ code: "too-short", reagent, seconds: passed, wanted: wait });
    return slips;
  });
}

function secondsAfter({ until }: Worked, through: readonly Done[], at: number, next: number): number {
  const from = through[at]?.after.age ?? 0;
  const to = next < 0 ? (through.at(-1)?.after.age ?? 0) + until : (through[next]?.after.age ?? 0);
  return to - from;
}

function dropSlips({ method, counted, events }: Worked, drops: readonly Done[], end: Vessel): Slip[] {
  if (method.kind !== "titration") return [];
  const slips: Slip[] = [];
  const angles = drops.flatMap(({ event }) => (event.kind === "drop" ? [Math.abs(event.angle)] : []));
  const angle = mean(angles);
  if (angle > SLANT) slips.push({ code: "slanted", angle, share: mean(angles.map(dropSize)) - 1 });
  const late = drops.slice(-LAST_DROPS).filter(({ before, event }) => {
    const here = afterSeconds(before, event.after);
    return here.plume > CLOUD;
  });
  // The last one, too, is swirled before it is judged.
  const isLastCloudy = end.plume > CLOUD;
  if (late.length > 0 || isLastCloudy)
    slips.push({ code: "not-swirled", drops: late.length + (isLastCloudy ? 1 : 0) });
  const needed = endOf({ ...end, age: (drops.at(-1)?.before ?? end).age });
  const sizes = events.flatMap((event) => (event.kind === "drop" ? [dropSize(event.angle)] : []));
  const total = sizes.reduce((sum, size) => sum + size, 0);
  const beforeLast = total - (sizes.at(-1) ?? 0);
  const past = beforeLast - needed;
  if (slips.every(({ code }) => code !== "not-swirled")) {
    if (past > EDGE) slips.push({ code: "past-end", drops: Math.ceil(past - EDGE) });
    else if (total < needed - EDGE)
      slips.push({ code: "short-of-end", drops: Math.ceil(needed - total - EDGE) });
  }
  if (counted !== null && counted !== end.fell) slips.push({ code: "miscounted", counted, fell: end.fell });
  return slips;
}

/** The colour changes within so much of a drop of the end: neither side is a slip. */
const EDGE = 0.35;

function lookSlips({ age, light }: Vessel): Slip[] {
  const seen: Record<Light, Slip[]> = { white: [], sun: [{ code: "sun" }], tinted: [{ code: "tinted" }] };
  return [...(age > TOO_LONG ? [{ code: "waited" as const, seconds: age }] : []), ...seen[light]];
}

const mean = (list: readonly number[]): number =>
  list.length === 0 ? 0 : list.reduce((sum, one) => sum + one, 0) / list.length;
