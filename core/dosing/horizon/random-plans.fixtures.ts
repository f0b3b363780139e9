import { millisecondsInDay } from "date-fns/constants";
import { addTo } from "../../products/effects";
import { TRAITS, type Use } from "../../products/traits";
import { seeded } from "../../random";
import { usualSpreads } from "../../uncertainty/spread";
import { readingsOf } from "../../water/equilibrium";
import { totalsOf } from "../../water/sample";
import { saturation } from "../../water/saturation";
import { choosable } from "../plan/choosable";
import { randomCase } from "../plan/plan.fixtures";
import type { Solver } from "../plan/programme";
import { ACID_CHLORINE_MINUTES } from "../plan/steps";
import { chlorineGoal } from "../plan/weighing";
import { pouringMinutes } from "./clock";
import { horizonPlan } from "./plan";
import type { HorizonProblem } from "./problem";
import { believedBy, usualRates } from "./rates";
import { isServed } from "./reasons";

/**
 * Random waters, shelves of none to ten products, minutes from 5 to 120 and none to five calls; and what a colleague
 * would not understand of a plan for them, told by walking it through the equilibrium.
 */

/** Over this pH a dose of hypochlorite leads past what skin and metal stand. */
const ACID_FIRST = 8.05;
/** What a good hand leaves over the floor for the next call to find. mg/L */
const SPARE_CHLORINE = 1;
const FROM = Date.UTC(2026, 5, 1, 15);

/** The same seed gives the same problem. */
export function randomProblem(seed: number): HorizonProblem {
  const random = seeded(seed * 104_729 + 17);
  const { input, setting } = randomCase(seed);
  const kept = random();
  const products = input.products.filter(() => random() < kept);
  const kind = setting.kind;
  const place = { kind, outdoors: true, feeder: "none" } as const;
  const rates = usualRates(place);
  const calls = Array.from({ length: Math.floor(random() * 6) }, () => 1 + 13 * random()).sort(
    (a, b) => a - b,
  );
  return {
    still: {
      input: { ...input, products },
      setting,
      set: { id: "any", name: "any", date: "2026-01-01", purpose: "", ranges: {} },
      surface: setting.surface === "vinyl" ? "vinyl" : "plaster",
      spreads: usualSpreads(input.water),
      leftAlone: [],
    },
    from: FROM,
    calls: calls.slice(0, 4).map((days) => FROM + days * millisecondsInDay),
    minutes: 5 + Math.floor(115 * random()),
    rates: rates.rates,
    believed: believedBy(input.water, rates),
    feeder: null,
    outdoors: true,
    location: { latitude: 40, longitude: -105 },
    weather: [],
  };
}

/** What is silly about the plan of a problem; none where nothing is. */
export function silly(problem: HorizonProblem, solver: Solver): string[] {
  const plan = horizonPlan(problem, solver);
  const { input } = problem.still;
  const { goals, litres, water } = input;
  const found: string[] = [];
  const usesOf = (compounds: readonly (keyof typeof TRAITS)[]) =>
    new Set(compounds.map((compound) => TRAITS[compound].use).filter((use): use is Use => use !== null));
  const now = usesOf(plan.pours.map(({ compound }) => compound));
  if (now.has("acid") && now.has("base")) found.push("an acid and a base now");
  for (const { doses } of plan.calls) {
    const then = usesOf(doses.map(({ compound }) => compound));
    if (then.has("acid") && then.has("base")) found.push("an acid and a base at one later call");
  }
  // What would take the pH beyond what metal and skin stand waits, and is said to; what has no time too.
  let totals = totalsOf(water);
  for (const { compound, grams, product } of plan.pours) {
    const strength = input.products.find(({ key }) => key === product)?.strength ?? 1;
    totals = addTo(totals, [{ product: compound, strength, grams }], litres).totals;
  }
  const after = readingsOf(totals);
  const has = (use: Use) =>
    choosable(input).some(({ product }) => TRAITS[product].use === use && !TRAITS[product].stabilised);
  // So high that chlorine, which lifts it, waits for some acid, and half an hour between them.
  const waitsForAcid =
    water.ph > ACID_FIRST && now.has("acid") && problem.minutes < ACID_CHLORINE_MINUTES + 10;
  const isLeftOut = (use: Use, reason: string) =>
    plan.leftOut.some(({ compound, why }) => why === reason && TRAITS[compound].use === use);
  // Less time than a bucket takes to dissolve in, with nothing on the shelf that is poured as it is.
  const isTooSlow = choosable(input).every(
    ({ product }) =>
      TRAITS[product].use !== "chlorine" ||
      pouringMinutes({ compound: product, how: TRAITS[product].how, grams: 1 }) > problem.minutes,
  );
  const floor = chlorineGoal({ goals, water: { ...water, freeChlorine: 0 } }, after).low;
  const named = new Set([
    ...plan.open.map(({ quantity }) => quantity),
    ...plan.leftOut.flatMap(({ compound }) => (TRAITS[compound].use === "chlorine" ? ["freeChlorine"] : [])),
  ]);
  if (floor !== null && after.freeChlorine < floor - 0.05 && !named.has("freeChlorine"))
    found.push(`chlorine ${after.freeChlorine.toFixed(2)} under ${floor.toFixed(2)} without a word`);
  if (
    floor !== null &&
    water.freeChlorine < floor - 0.3 &&
    has("chlorine") &&
    !now.has("chlorine") &&
    !isLeftOut("chlorine", "unsafe-way") &&
    !waitsForAcid &&
    !isTooSlow
  )
    found.push(`no chlorine poured at ${water.freeChlorine.toFixed(2)}`);
  const { low, high } = goals.ph;
  // What somebody would read as wrong: a comparator's step beyond.
  if (low !== null && water.ph < low - 0.1 && after.ph < water.ph - 0.05)
    found.push(`pH ${water.ph.toFixed(2)} under and poured down to ${after.ph.toFixed(2)}`);
  if (
    high !== null &&
    water.ph > high + 0.1 &&
    after.ph > water.ph + 0.05 &&
    has("acid") &&
    !isLeftOut("acid", "minutes")
  )
    found.push(`pH ${water.ph.toFixed(2)} over and poured up to ${after.ph.toFixed(2)}`);
  const off = (low !== null && after.ph < low - 0.05) || (high !== null && after.ph > high + 0.05);
  if (off && !named.has("ph")) found.push(`pH ${after.ph.toFixed(2)} outside without a word`);
  const [before, then] = [water, after].map((one) => saturation(one).full.corrected) as [number, number];
  const { low: eats, high: scales } = goals.saturation;
  const isWorse =
    (then > scales + 0.05 && then > before + 0.05) || (then < eats - 0.05 && then < before - 0.05);
  if (isWorse && !plan.indexMoved && goals.calciumHardness.known && goals.totalAlkalinity.known)
    found.push(`index ${before.toFixed(2)} to ${then.toFixed(2)} without a word`);
  for (const { quantity, becomes, value, limit } of plan.open) {
    if (becomes !== "no-product") continue;
    if (quantity === "ph" && plan.leftOut.some(({ compound }) => TRAITS[compound].acid))
      found.push("no product, and the same left out for the minutes");
    if (isServed(quantity, value < limit, problem.still.input))
      found.push(`no product for ${quantity}, and it stands on the shelf`);
  }
  const ceiling = chlorineGoal({ goals, water: { ...water, freeChlorine: 0 } }, after).high;
  // Over what is held only so that it lasts: the next call finds hardly more than the floor.
  const next = plan.promised[0]?.readings.freeChlorine.value ?? Number.POSITIVE_INFINITY;
  if (
    ceiling !== null &&
    after.freeChlorine > Math.max(water.freeChlorine, ceiling) + 0.1 &&
    next > (floor ?? 0) + SPARE_CHLORINE
  )
    found.push(`chlorine poured to ${after.freeChlorine.toFixed(2)}`);
  if (plan.minutes > problem.minutes + 1e-6) found.push(`${plan.minutes} of ${problem.minutes} minutes`);
  return found;
}
