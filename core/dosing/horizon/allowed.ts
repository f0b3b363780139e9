import { effectPerGram, type MolarEffect } from "../../products/products";
import { TRAITS, USES, type Use } from "../../products/traits";
import { molar } from "../../water/molar";
import type { Sample } from "../../water/sample";
import { choosable } from "../plan/choosable";
import type { PlanInput } from "../plan/input";
import { MOLES, MOVED_BY, TEST_STEP } from "../plan/weighing";
import type { HorizonProblem } from "./problem";
import { RAISED } from "./raised";

/** What may be poured today, and what is thought of for the calls to come. */
export interface Allowed {
  /** Places in the list of products that may be poured today. */
  now: ReadonlySet<number>;
  /** And at later calls: of each use the cheapest, which bottle it will be is for that day. */
  later: ReadonlySet<number>;
  /** The most that a use may move its total by at one call, and at all calls together, mmol/L. */
  most: ReadonlyMap<Use, { aCall: number; together: number }>;
  /** Whether air after a call serves: alkalinity is over, or pH is under beside enough alkalinity. */
  air: boolean;
  /** Whether the feeder may be turned down, and up. */
  feeder: { down: boolean; up: boolean };
  /** Charge that a step of the pH's test is worth, meq/L. */
  phStep: number;
}

/** Alkalinity comes down by at most so much a call: the walls and the pH stand no more. mg/L */
export const ALKALINITY_A_CALL = 25;
/** No use moves its total further at one call. mmol/L */
const MOST_MOVED = 4;

const MILLI = 1000;

/**
 * Rules of the trade that hold before any weighing. What stands in its range is left alone, but for a pH that
 * would leave it before the next call, and chlorine that would not last. A basin's own feeder comes before a
 * jug: from that only what is missing to the floor today.
 *
 * @param unpoured readings at each call if nothing is given
 * @param nextPh where the pH will be at the next call, four times in five on either side
 * @param nextChlorine and the chlorine
 * @param doubtful where drops and calculation disagree about acid or base, the smaller amount
 * @param chlorinated the pH once the chlorine is where it is to be
 * @param holds whether the feeder at its most keeps the chlorine over its floor until the next call
 * @param isLearned whether the basin's own log says how its pH rises: by what is usual none in its range is steered
 * @param floor of the free chlorine today; null where it is not held
 */
export function allowedAt(
  input: PlanInput,
  unpoured: readonly Sample[],
  {
    isFed,
    holds,
    phStep,
    floor,
    isLearned,
    nextPh: likely,
    nextChlorine,
    chlorinated,
    doubtful,
  }: {
    isFed: boolean;
    holds: boolean;
    phStep: number;
    floor: number | null;
    isLearned: boolean;
    nextPh: { low: number; high: number };
    nextChlorine: { low: number; high: number };
    chlorinated: number;
    doubtful: HorizonProblem["doubtfulDemand"];
  },
): Allowed {
  const { goals, water, products } = input;
  const may = new Set(choosable(input).map(({ key }) => key));
  const next = unpoured[1] ?? water;
  const nextPh = isLearned ? likely : { low: water.ph, high: water.ph };
  // What lifts the chlorine lifts the pH as well: acid goes with it where that is too far.
  const acid = goals.ph.known && acidWanted(input, Math.max(nextPh.high, chlorinated));
  const base = goals.ph.known && !acid && baseWanted(input, nextPh.low);
  const isUnder = floor !== null && water.freeChlorine < floor;
  const none = { now: false, later: false, aCall: 0, together: 0 };
  // No call lifts chlorine farther than bathing can wait for.
  const mostChlorine = Math.min(MOST_MOVED, MILLI * molar.chlorine(goals.mostChlorine));
  const anything = { aCall: MOST_MOVED, together: Number.POSITIVE_INFINITY };
  const wants: Record<Use, { now: boolean; later: boolean; aCall: number; together: number }> = {
    acid: {
      ...anything,
      now: acid,
      // An acid and a base are never of one call, a later one neither.
      later: goals.ph.known && !base,
      aCall: MILLI * MOLES.totalAlkalinity(ALKALINITY_A_CALL),
    },
    base: { ...anything, now: base, later: base },
    alkalinity: upTo("totalAlkalinity", input) ?? (base ? asBase(input) : null) ?? none,
    calcium: upTo("calciumHardness", input) ?? none,
    stabiliser: upTo("cyanuricAcid", input) ?? none,
    chlorine: isFed
      ? {
          // A jug lifts it over the floor; the rest is the feeder's.
          now: isUnder || !holds,
          later: !holds,
          aCall: !holds
            ? mostChlorine
            : isUnder
              ? MILLI * molar.chlorine(floor + 2 * TEST_STEP.freeChlorine - water.freeChlorine)
              : 0,
          together: Number.POSITIVE_INFINITY,
        }
      : { ...anything, aCall: mostChlorine, now: true, later: true },
  };
  // The smaller of two amounts that do not agree, then a test.
  if (doubtful) {
    const wanted = wants[doubtful.use];
    wanted.aCall = Math.min(wanted.aCall, doubtful.most);
  }
  const now = new Set<number>();
  const cheapest = new Map<Use, { index: number; price: number }>();
  products.forEach((product, index) => {
    const { use } = TRAITS[product.product];
    if (!use || !may.has(product.key)) return;
    const effect = effectPerGram(product);
    // What brings borate as well is somebody's own choice.
    if (effect.borate !== 0) return;
    if (wants[use].now) now.add(index);
    const price = (product.pricePerKg + 1e-6) / movedBy(use, effect);
    const best = cheapest.get(use);
    if (wants[use].later && (!best || price < best.price)) cheapest.set(use, { index, price });
  });
  const high = goals.freeChlorine.high;
  return {
    now,
    later: new Set([...cheapest.values()].map(({ index }) => index)),
    most: new Map(USES.map((use) => [use, wants[use]])),
    air: airServes(input),
    feeder: {
      down: high !== null && Math.max(water.freeChlorine, next.freeChlorine) > high,
      up: isUnder || (floor !== null && nextChlorine.low < floor),
    },
    phStep,
  };
}

/** What a gram moves of the total that it is used for, mol. */
export const movedBy = (use: Use, effect: MolarEffect): number => {
  const raised = RAISED[use];
  return Math.abs(effect[raised ? MOVED_BY[raised] : "alkalinity"]);
};

/** pH or alkalinity is over, or the pH will be by the next call. */
function acidWanted({ goals: { ph, totalAlkalinity }, water }: PlanInput, nextPh: number): boolean {
  if (ph.high !== null && (water.ph > ph.high || (nextPh > water.ph && nextPh > ph.high))) return true;
  const { steer, high } = totalAlkalinity;
  // A pH that is under comes first: acid takes it farther down.
  if (ph.low !== null && water.ph < ph.low) return false;
  return steer && high !== null && water.totalAlkalinity > high;
}

/** With the jets on or the returns turned up carbon dioxide goes: alkalinity stays and pH climbs. */
function airServes({ aeration, goals: { ph, totalAlkalinity }, water }: PlanInput): boolean {
  if (!aeration || !ph.known || !totalAlkalinity.known) return false;
  const { high, aim } = totalAlkalinity;
  return (
    (high !== null && water.totalAlkalinity > high) ||
    (ph.low !== null && water.ph < ph.low && water.totalAlkalinity >= aim)
  );
}

const baseWanted = ({ goals: { ph }, water }: PlanInput, nextPh: number): boolean =>
  ph.low !== null && (water.ph < ph.low || (nextPh < water.ph && nextPh < ph.low));

/** Where a pH is under and no base is on the shelf, bicarbonate lifts it a little, as far as alkalinity has room. */
function asBase({ goals: { totalAlkalinity }, water, products }: PlanInput) {
  const { known, high } = totalAlkalinity;
  if (!known || high === null || water.totalAlkalinity >= high) return null;
  if (products.some(({ product, stock }) => TRAITS[product].use === "base" && stock !== 0)) return null;
  const most = MILLI * MOLES.totalAlkalinity(high - water.totalAlkalinity);
  return { now: true, later: true, aCall: most, together: most };
}

/** What is low is raised, no further than to its aim by all calls together. */
function upTo(quantity: "totalAlkalinity" | "calciumHardness" | "cyanuricAcid", { goals, water }: PlanInput) {
  const { known, steer, low, aim } = goals[quantity];
  if (!known || !steer || low === null || water[quantity] >= low) return null;
  const most = MILLI * MOLES[quantity](aim - water[quantity]);
  return { now: true, later: true, aCall: most, together: most };
}
