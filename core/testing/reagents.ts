import { type Measure, type Method, stepsFor } from "./kit";
import type { Observation } from "./result";

/** What a test takes out of a bottle. */
export interface ReagentUse {
  reagent: string;
  measure: Measure;
  amount: number;
}

/**
 * What one test used up: its preparation, and for a titration every drop that fell, the ones that
 * changed nothing included.
 * @example reagentsUsed(alkalinity, { kind: "drops", count: 10, sample: 25 }).length // 3
 */
export function reagentsUsed(method: Method, seen: Observation): ReagentUse[] {
  const sample = seen.kind === "drops" ? seen.sample : null;
  const steps = stepsFor(method, sample);
  const readings = seen.kind === "place" ? 1 + (seen.again?.length ?? 0) : 1;
  // A tube is read again with the same water: reagent goes in once however often it is poured back.
  const times = method.kind === "turbidity" ? 1 : readings;
  const used = steps.map(({ reagent, measure, amount }) => ({ reagent, measure, amount: amount * times }));
  if (method.kind === "titration" && seen.kind === "drops")
    used.push({ reagent: method.titrant, measure: "drops", amount: seen.count + (seen.idle ?? 0) });
  return used.filter(({ amount }) => amount > 0);
}

/**
 * What a test will use when it comes to `expected` drops in this sample.
 * @example reagentsNeeded(alkalinity, 25, 100).length // 3
 */
export const reagentsNeeded = (method: Method, sample: number | null, expected: number): ReagentUse[] =>
  reagentsUsed(
    method,
    method.kind === "titration" && sample !== null
      ? { kind: "drops", count: expected, sample }
      : { kind: "number", value: 0 },
  );

/** A bottle as it stands on the shelf. */
export interface Bottle {
  measure: Measure;
  /** How many it held when it was full: drops, scoops, tablets, mL or strips. */
  full: number;
  used: number;
}

/** @example leftIn({ full: 720, used: 100 }) // 620 */
export const leftIn = ({ full, used }: Bottle): number => Math.max(0, full - used);

/** Drops in a bottle of this many mL. A usual dropper makes 20 to 30 a mL. @example dropsIn(30, 24) // 720 */
export const dropsIn = (millilitres: number, dropsPerMillilitre: number): number =>
  Math.round(millilitres * dropsPerMillilitre);

/**
 * A bottle opened before this season began was there all last season. Dates as 2026-04-01, season as 04-01.
 * @example ofLastSeason("2025-05-01", "2026-05-04", "04-01") // true
 */
export function ofLastSeason(openedOn: string | null, today: string, seasonStart: string): boolean {
  if (!openedOn) return false;
  const year = Number(today.slice(0, 4));
  const thisYear = `${year}-${seasonStart}`;
  const began = today >= thisYear ? thisYear : `${year - 1}-${seasonStart}`;
  return openedOn < began;
}
