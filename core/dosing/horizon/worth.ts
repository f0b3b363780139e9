import { MILLI } from "../../learning/unknowns";
import { TRAITS } from "../../products/traits";
import type { Sample } from "../../water/sample";
import { type Goal, STEERED, type Steered } from "../plan/goals";
import type { PlanInput } from "../plan/input";
import { halfWidth } from "../plan/weighing";
import type { Schedule } from "./ahead";
import type { Asked, HorizonWeights, Margins } from "./asked";
import { overshootLimit } from "./limit-rows";

/**
 * What a schedule is worth, by the waters that it really comes to: money, bottles, and what each reading is off
 * at each call. It is what the programme makes least, told without anything straight.
 */
export function worthOf(
  {
    input,
    weights,
    margins,
    chlorine,
    ahead,
  }: Pick<Asked, "input" | "weights" | "margins" | "chlorine" | "ahead">,
  { grams, aired, fed }: Schedule,
  readings: { found: readonly Sample[]; after: readonly Sample[] },
): number {
  const perCubicMetre = 1000 / input.litres;
  let worth = grams.reduce((sum, one) => sum + priceOf(one, input), 0) * perCubicMetre;
  worth += weights.product * [...(grams[0]?.values() ?? [])].filter((amount) => amount > 0).length;
  worth += weights.aired * aired.reduce((sum, one) => sum + one, 0);
  const { feeder, rates } = ahead.problem;
  if (feeder) {
    const days = ahead.days.reduce((sum, one) => sum + one, 0);
    worth += (fed * days * feeder.pricePerKg) / 1000;
    if (Math.abs(fed - rates.feeder) > 1e-6) worth += weights.setting;
  }
  const isAcidGiven = input.products.some(
    ({ key, product }) => TRAITS[product].use === "acid" && (grams[0]?.get(key) ?? 0) > 0,
  );
  const sure = margins.after[0] && overshootLimit(input, margins.after[0].ph.low, isAcidGiven);
  if (typeof sure === "number" && readings.after[0])
    worth += (weights.overshoot * Math.max(0, sure - readings.after[0].ph)) / halfWidth("ph", input.goals.ph);
  const last = ahead.gaps.length;
  for (let call = 0; call <= last; call++) {
    const found = readings.found[call];
    const after = readings.after[call];
    if (call > 0 && found)
      worth += STEERED.reduce(
        (sum, name) => sum + offAt(input, weights, name, found, chlorine.found[call], margins.found[call]),
        0,
      );
    if (after && (call < last || last === 0))
      worth += (last === 0 ? STEERED : (["ph", "freeChlorine"] as const)).reduce(
        (sum, name) =>
          sum + offAt(input, weights, name, after, chlorine.after[call], margins.after[call], call === 0),
        0,
      );
  }
  return worth;
}

/** What one reading at one moment adds. */
function offAt(
  { goals, water }: PlanInput,
  weights: HorizonWeights,
  quantity: Steered,
  sample: Sample,
  chlorine: Goal | undefined,
  margins: Margins | undefined,
  isToday = false,
): number {
  const goal = quantity === "freeChlorine" ? chlorine : goals[quantity];
  if (!goal?.known || !margins) return 0;
  const half = halfWidth(quantity, goal);
  const value = sample[quantity];
  const isFast = quantity === "ph" || quantity === "freeChlorine";
  const dear = isFast ? weights.outsideUnsafe : weights.outside;
  const sure = margins[quantity];
  const inner = quantity === "ph" ? goal.aim : null;
  const under = (limit: number | null) => (limit === null ? 0 : Math.max(0, limit - value) / half);
  const over = (limit: number | null) => (limit === null ? 0 : Math.max(0, value - limit) / half);
  const isChlorine = quantity === "freeChlorine";
  let sum = (isChlorine ? weights.underFloor : dear) * under(goal.low) + dear * over(goal.high);
  if (isFast || goal.steer) {
    const low = goal.low === null ? null : goal.low + sure.low;
    const high = goal.high === null ? null : goal.high - sure.high;
    sum +=
      (isChlorine ? weights.unsureFloor : weights.unsure) *
      under(low === null || inner === null ? low : Math.min(low, inner));
    sum += weights.unsure * over(high === null || inner === null ? high : Math.max(high, inner));
  }
  const isAimed =
    goal.steer &&
    (quantity === "freeChlorine" ? isToday && water.freeChlorine < goal.aim : quantity !== "ph");
  return isAimed ? sum + (weights.offAim * Math.abs(value - goal.aim)) / half : sum;
}

/** A product's own charge on the price list. */
export const priceOf = (grams: ReadonlyMap<string, number>, { products }: PlanInput): number =>
  products.reduce((sum, { key, pricePerKg }) => sum + ((grams.get(key) ?? 0) / MILLI) * pricePerKg, 0);
