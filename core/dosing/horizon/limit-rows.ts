import { MILLI } from "../../learning/unknowns";
import { TRAITS } from "../../products/traits";
import { molar } from "../../water/molar";
import type { Goal } from "../plan/goals";
import type { PlanInput } from "../plan/input";
import {
  chargeExpression,
  chargePerPh,
  type LinearTotals,
  type Reference,
  titratedExpression,
} from "../plan/linearise";
import { linear, plus } from "../plan/programme";
import { halfWidth, MOLES, TEST_STEP } from "../plan/weighing";
import type { Asked, HorizonWeights, Tangent } from "./asked";
import { type Rows, yName } from "./rows";

/** What each reading must hold, as rows. */

/** The readings that are held at every call but for pH and chlorine. */
const SLOW = ["totalAlkalinity", "calciumHardness", "cyanuricAcid"] as const;

/** What each reading must hold at a call: where it is found, but for the first, and where it is left. */
export function hold(
  rows: Rows,
  asked: Asked,
  found: LinearTotals,
  after: LinearTotals,
  tangent: Tangent,
  call: number,
): void {
  const { input, weights, chlorine, margins, ahead } = asked;
  const { goals, water } = input;
  const isLast = call === ahead.gaps.length;
  const sides = [
    ...(call > 0
      ? [{ totals: found, at: tangent.found[call], goal: chlorine.found[call], margin: margins.found[call] }]
      : []),
    // Where the last call leaves the water nobody looks, unless it is the only one.
    ...(isLast && call > 0
      ? []
      : [
          { totals: after, at: tangent.after[call], goal: chlorine.after[call], margin: margins.after[call] },
        ]),
  ];
  for (const { totals, at, goal, margin } of sides) {
    if (!at || !goal || !margin) continue;
    holdPh(rows, weights, goals.ph, totals, at, margin.ph);
    if (totals === after && call === 0) holdAcid(rows, asked, totals, at, margin.ph.low);
    const scale = MILLI * molar.chlorine(halfWidth("freeChlorine", goal));
    const level = (value: number) => linear(MILLI * molar.chlorine(value));
    if (goal.known && goal.low !== null) {
      rows.above(totals.chlorine, level(goal.low), scale, weights.underFloor);
      rows.above(totals.chlorine, level(goal.low + margin.freeChlorine.low), scale, weights.unsureFloor);
    }
    if (goal.known && goal.high !== null) {
      rows.above(level(goal.high), totals.chlorine, scale, weights.outsideUnsafe);
      rows.above(level(goal.high - margin.freeChlorine.high), totals.chlorine, scale, weights.unsure);
    }
    if (
      totals === after &&
      call === 0 &&
      !ahead.problem.feeder &&
      goal.known &&
      goal.steer &&
      water.freeChlorine < goal.aim
    )
      rows.near(totals.chlorine, level(goal.aim), scale, weights.offAim);
  }
  // The slow ones are looked at where they are found; the first call's doses count at the second.
  const slow = call > 0 ? found : isLast ? after : null;
  const reference = call > 0 ? tangent.found[call] : tangent.after[call];
  const margin = call > 0 ? margins.found[call] : margins.after[call];
  if (!slow || !reference || !margin) return;
  const expressions = {
    totalAlkalinity: titratedExpression(reference, slow),
    calciumHardness: slow.calcium,
    cyanuricAcid: slow.cyanurate,
  };
  for (const quantity of SLOW) {
    const goal = goals[quantity];
    if (!goal.known) continue;
    const expression = expressions[quantity];
    const scale = MILLI * MOLES[quantity](halfWidth(quantity, goal));
    const level = (value: number) => linear(MILLI * MOLES[quantity](value));
    if (goal.low !== null) {
      rows.above(expression, level(goal.low), scale, weights.outside);
      if (goal.steer) rows.above(expression, level(goal.low + margin[quantity].low), scale, weights.unsure);
    }
    if (goal.high !== null) {
      rows.above(level(goal.high), expression, scale, weights.outside);
      if (goal.steer) rows.above(level(goal.high - margin[quantity].high), expression, scale, weights.unsure);
    }
    if (goal.steer) rows.near(expression, level(goal.aim), scale, weights.offAim);
  }
}

function holdPh(
  rows: Rows,
  weights: HorizonWeights,
  goal: Goal,
  totals: LinearTotals,
  at: Reference,
  { low, high }: { low: number; high: number },
): void {
  if (!goal.known) return;
  const chargeTo = (value: number) => chargeExpression(at, totals, value);
  const scale = (value: number) => Math.abs(halfWidth("ph", goal) * chargePerPh(at, value));
  const under = (limit: number, price: number) =>
    rows.above(chargeTo(limit), totals.alkalinity, scale(limit), price);
  const over = (limit: number, price: number) =>
    rows.above(totals.alkalinity, chargeTo(limit), scale(limit), price);
  if (goal.low !== null) {
    over(goal.low, weights.outsideUnsafe);
    over(Math.min(goal.low + low, goal.aim), weights.unsure);
  }
  if (goal.high !== null) {
    under(goal.high, weights.outsideUnsafe);
    under(Math.max(goal.high - high, goal.aim), weights.unsure);
  }
}

/** Acid goes in only as far as the pH is surely over its limit afterwards; the rest is for a later call. */
function holdAcid(
  rows: Rows,
  { weights, input, allowed }: Asked,
  after: LinearTotals,
  at: Reference,
  margin: number,
): void {
  const limit = overshootLimit(input, margin, true);
  const limitWithout = overshootLimit(input, margin, false);
  if (limit === null || limitWithout === null) return;
  const perPh = chargePerPh(at, limit);
  const opened = input.products.flatMap(({ product }, index) =>
    TRAITS[product].use === "acid" && allowed.now.has(index) ? [yName(index)] : [],
  );
  const more = linear(0, Object.fromEntries(opened.map((name) => [name, perPh * (limit - limitWithout)])));
  rows.above(
    after.alkalinity,
    plus(chargeExpression(at, after, limitWithout), more),
    Math.abs(halfWidth("ph", input.goals.ph) * perPh),
    weights.overshoot,
  );
}

/**
 * The lowest pH that today's pours may leave: so far over its limit that it holds nine times in ten. Where it
 * stands lower already no acid brings it down, and nothing else by more than its test sees.
 * @example overshootLimit(input, 0.15, true) // 7.35
 */
export function overshootLimit(
  { goals: { ph }, water }: PlanInput,
  margin: number,
  isAcidGiven: boolean,
): number | null {
  if (!ph.known || ph.low === null) return null;
  return Math.min(ph.low + margin, isAcidGiven ? water.ph : water.ph - TEST_STEP.ph);
}
