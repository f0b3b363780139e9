import { MILLI } from "../../learning/unknowns";
import { TRAITS } from "../../products/traits";
import { readingsOf } from "../../water/equilibrium";
import type { Sample } from "../../water/sample";
import { saturation } from "../../water/saturation";
import type { PlanInput } from "../plan/input";
import { halfWidth } from "../plan/weighing";
import type { Ahead, Schedule } from "./ahead";
import type { Asked } from "./asked";
import { lowestOfWay, overshootLimit, WALLS_PRICE } from "./limit-rows";
import { MOMENTS, type Readings } from "./moments";
import { beyond, type Term } from "./terms";

/**
 * What a schedule is worth, by the waters that it really comes to: money, bottles, and what each reading is off
 * over the time. It is what the programme makes least, told without anything straight.
 */
export function worthOf(
  { input, weights, sureLow, ahead }: Pick<Asked, "input" | "weights" | "sureLow" | "ahead">,
  terms: readonly Term[],
  { grams, aired, fed }: Schedule,
  readings: Readings,
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
  const sure = overshootLimit(input, sureLow, isAcidGiven);
  if (sure !== null && readings.after[0]) {
    const beforeSock = withoutSock(ahead, grams[0]);
    const { ph } = beforeSock ?? readings.after[0];
    const off =
      Math.max(0, sure - ph) + (beforeSock ? underWay(input, ahead, readings.after[0], isAcidGiven) : 0);
    worth += (weights.overshoot * off) / halfWidth("ph", input.goals.ph);
  }
  for (const kind of MOMENTS)
    readings[kind].forEach((water, call) => {
      worth += beyond(
        terms.filter(({ moment }) => moment.kind === kind && moment.call === call),
        water,
      );
    });
  return worth;
}

/** How far the water under a dissolved sock stands under a safe way, by what that costs. */
function underWay(input: PlanInput, { start }: Ahead, after: Sample, isAcidGiven: boolean): number {
  const { ph, index } = lowestOfWay(input, start, isAcidGiven);
  const stands = saturation(after).full.corrected;
  const under = Number.isFinite(index) ? Math.max(0, index - stands) : 0;
  return WALLS_PRICE * (Math.max(0, ph - after.ph) + under);
}

/** The water after today's pours but for what dissolves in a sock over days; null where nothing does. */
function withoutSock(ahead: Ahead, today: ReadonlyMap<string, number> | undefined): Sample | null {
  const slow = ahead.products.filter(
    ({ key, product }) => TRAITS[product].use === "stabiliser" && today?.has(key),
  );
  if (!today || slow.length === 0) return null;
  const rest = new Map(today);
  for (const { key } of slow) rest.delete(key);
  const water = { ...ahead.start };
  ahead.give(water, rest);
  return readingsOf(water);
}

/** A product's own charge on the price list. */
export const priceOf = (grams: ReadonlyMap<string, number>, { products }: PlanInput): number =>
  products.reduce((sum, { key, pricePerKg }) => sum + ((grams.get(key) ?? 0) / MILLI) * pricePerKg, 0);
