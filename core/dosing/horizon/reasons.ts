import { effectPerGram, PRODUCTS } from "../../products/products";
import { TRAITS, type Use } from "../../products/traits";
import { readingsOf } from "../../water/equilibrium";
import type { Sample } from "../../water/sample";
import { saturation } from "../../water/saturation";
import { choosable } from "../plan/choosable";
import { STEERED, type Steered } from "../plan/goals";
import type { PlanInput } from "../plan/input";
import { chlorineGoal, MOVED_BY } from "../plan/weighing";
import type { LeftOut } from "./fit";
import type { HorizonProblem } from "./problem";
import { projectsOf } from "./projects";
import { RAISED } from "./raised";
import type { SolvedHorizon } from "./solve";

/** Why each product of today, and what becomes of what stays outside. */

export interface Reason {
  product: string;
  quantity: Steered;
  /** Now, after it, and at the next call without it; that is null where nobody knows of a next call. */
  from: number;
  to: number;
  without: number | null;
  limit: number | null;
}

export interface OpenReading {
  quantity: Steered;
  value: number;
  limit: number;
  /**
   * In its range at a call to come; only by what takes days; nothing on the shelf; what there is was left out, see
   * `leftOut`; what there is would cost another reading more than it helps this one; it falls by itself; slowly,
   * call by call.
   */
  becomes: "at-call" | "project" | "no-product" | "left-out" | "conflict" | "falls-by-itself" | "slowly";
  /** The call. */
  at: number | null;
}

/** The saturation index before today's pours and after them, and the limit of the balance that it is beyond. */
export interface IndexMoved {
  from: number;
  to: number;
  limit: number;
}

/** Less than this no test tells. */
const INDEX_STEP = 0.02;

/**
 * The index where today's pours, for the sake of other readings, leave it farther outside than it stood.
 * @example indexMoved(horizon, solved) // null where it stays inside or comes nearer
 */
export function indexMoved({ still }: HorizonProblem, { readings }: SolvedHorizon): IndexMoved | null {
  const { goals, water } = still.input;
  if (!goals.calciumHardness.known || !goals.totalAlkalinity.known) return null;
  const from = saturation(water).full.corrected;
  const to = saturation(readings.after[0] as Sample).full.corrected;
  const { low, high } = goals.saturation;
  if (to > high && to > from + INDEX_STEP) return { from, to, limit: high };
  if (to < low && to < from - INDEX_STEP) return { from, to, limit: low };
  return null;
}

/** The shelf and the other readings are no reason where something was left out for the minutes or the way. */
export const withLeftOut = (open: readonly OpenReading[], leftOut: readonly LeftOut[]): OpenReading[] =>
  open.map((one) => {
    const { quantity, value, limit, becomes } = one;
    const moves = leftOut.some(({ compound }) => {
      const effect = effectPerGram({ product: compound, strength: PRODUCTS[compound].strength })[
        MOVED_BY[quantity]
      ];
      return value < limit ? effect > 0 : effect < 0;
    });
    return (becomes === "no-product" || becomes === "conflict") && moves
      ? { ...one, becomes: "left-out" }
      : one;
  });

/** What each product is for, by leaving it out. */
export function reasonsOf(problem: HorizonProblem, { ahead, schedule, readings }: SolvedHorizon): Reason[] {
  const { input } = problem.still;
  const { goals, water } = input;
  const today = schedule.grams[0] ?? new Map<string, number>();
  return [...today.keys()].flatMap((key): Reason[] => {
    const product = input.products.find((one) => one.key === key);
    const use = product && TRAITS[product.product].use;
    if (!use) return [];
    const rest = new Map(today);
    rest.delete(key);
    // Air that goes with acid is no cure without it.
    const course = ahead.course({ ...schedule, aired: [], grams: [rest, ...schedule.grams.slice(1)] });
    const quantity = liftsPh(input, use) ? "ph" : (RAISED[use] ?? phOrAlkalinity(input, use === "acid"));
    const without = course.found[1] ? readingsOf(course.found[1])[quantity] : null;
    const goal =
      quantity === "freeChlorine"
        ? chlorineGoal({ goals, water: { ...water, freeChlorine: 0 } }, readings.after[0] as Sample)
        : goals[quantity];
    const rises = RAISED[use] !== undefined || use === "base";
    return [
      {
        product: key,
        quantity,
        from: water[quantity],
        to: (readings.after[0] as Sample)[quantity],
        without,
        limit: rises ? goal.low : goal.high,
      },
    ];
  });
}

/** Bicarbonate that goes in though alkalinity is not low stands for a base that is not there. */
const liftsPh = ({ goals: { totalAlkalinity }, water }: PlanInput, use: Use): boolean =>
  use === "alkalinity" && totalAlkalinity.low !== null && water.totalAlkalinity >= totalAlkalinity.low;

/** Acid that is poured while the pH is right is poured for the alkalinity. */
function phOrAlkalinity({ goals, water }: PlanInput, isAcid: boolean): Steered {
  const { ph, totalAlkalinity } = goals;
  if (!isAcid || ph.steer || ph.high === null) return "ph";
  return totalAlkalinity.steer &&
    totalAlkalinity.high !== null &&
    water.totalAlkalinity > totalAlkalinity.high
    ? "totalAlkalinity"
    : "ph";
}

/** Readings that stand outside today, or at the next call, and what becomes of them. */
export function openReadings(
  problem: HorizonProblem,
  { readings, ahead, schedule }: SolvedHorizon,
): OpenReading[] {
  const { input } = problem.still;
  const { goals, water } = input;
  const projects = new Set(projectsOf(problem).flatMap(({ quantities }) => quantities));
  return STEERED.flatMap((quantity): OpenReading[] => {
    const goalOf = (sample: Sample) =>
      quantity === "freeChlorine"
        ? chlorineGoal({ goals, water: { ...water, freeChlorine: 0 } }, sample)
        : goals[quantity];
    const beyond = (sample: Sample): number | null => {
      const { low, high, known } = goalOf(sample);
      const value = sample[quantity];
      const slack = 1e-3 * Math.max(1, value);
      if (!known) return null;
      if (low !== null && value < low - slack) return low;
      if (high !== null && value > high + slack) return high;
      return null;
    };
    const after = readings.after[0] as Sample;
    const limit = beyond(after);
    if (limit === null) return [];
    const told = { quantity, value: after[quantity], limit };
    if (quantity === "freeChlorine" && after.freeChlorine > limit) {
      const call = readings.found.findIndex((sample, index) => index > 0 && beyond(sample) === null);
      return [
        { ...told, becomes: "falls-by-itself", at: call > 0 ? (problem.calls[call - 1] ?? null) : null },
      ];
    }
    if (projects.has(quantity)) return [{ ...told, becomes: "project", at: null }];
    // In range as a call finds it; or past the range by then, and back in it by what that call gives.
    const isUnder = after[quantity] < limit;
    const isPast = (sample: Sample): boolean => {
      const there = beyond(sample);
      return there !== null && sample[quantity] < there !== isUnder;
    };
    const call = readings.found.findIndex((sample, index) => {
      const left = readings.after[index];
      return (
        index > 0 &&
        (beyond(sample) === null || (isPast(sample) && left !== undefined && beyond(left) === null))
      );
    });
    if (call > 0) return [{ ...told, becomes: "at-call", at: problem.calls[call - 1] ?? null }];
    const last = (ahead.gaps.length > 0 ? readings.found.at(-1) : after) as Sample;
    const isNearer = Math.abs(last[quantity] - limit) < Math.abs(water[quantity] - limit) - 1e-3;
    // What climbs by itself is nobody's doing.
    const isWorkedAt = moves(quantity, limit > water[quantity], input, schedule);
    if (isNearer && isWorkedAt) return [{ ...told, becomes: "slowly", at: null }];
    return [{ ...told, becomes: isServed(quantity, isUnder, input) ? "conflict" : "no-product", at: null }];
  });
}

/**
 * Whether the shelf holds something whose use it is to move a reading that way, and that may go into this water.
 * @example isServed("totalAlkalinity", true, input) // true with bicarbonate on the shelf
 */
export const isServed = (quantity: Steered, up: boolean, input: PlanInput): boolean =>
  choosable(input).some(({ product }) => {
    const { use } = TRAITS[product];
    if (use === null) return false;
    if (up) return RAISED[use] === quantity || (quantity === "ph" && use === "base");
    return use === "acid" && (quantity === "ph" || quantity === "totalAlkalinity");
  });

/** Whether something that is poured, today or later, moves a reading that way. */
function moves(
  quantity: Steered,
  up: boolean,
  { products }: PlanInput,
  { grams }: SolvedHorizon["schedule"],
): boolean {
  return products.some((product) => {
    const effect = effectPerGram(product)[MOVED_BY[quantity]];
    return (up ? effect > 0 : effect < 0) && grams.some((one) => (one.get(product.key) ?? 0) > 0);
  });
}
