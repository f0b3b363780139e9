import { InputFault } from "../../fault";
import { basinLitres } from "../../measure/units";
import { effectPerGram } from "../../products/products";
import { readingsOf } from "../../water/equilibrium";
import { molar } from "../../water/molar";
import { totalsOf } from "../../water/sample";
import { type Amounts, waterAfter } from "./amounts";
import { choosable } from "./choosable";
import type { PlanInput, PlanProduct } from "./input";
import { referenceOf } from "./linearise";
import { lpText, type Solver, withChoice } from "./programme";
import { LEAST_REPLACED, NONE, programmeOf } from "./programme-of";
import { judged, type Solved, TEST_STEP } from "./weighing";

const MOST_PASSES = 8;
/** A plan is settled when its pH comes out where the last pass took it for. */
const SETTLED_PH = 1e-6;

/**
 * The plan of least cost that brings every reading to its goal at once. Passes of a mixed-integer
 * linear programme, each tangent at the water that the pass before came to, until they agree; then
 * the full equilibrium says what comes of it.
 *
 * @throws InputFault for a water, a volume or a product off its limits
 * @example solvePlan(input, solver).settled // true
 */
export function solvePlan(asked: PlanInput, solver: Solver): Solved {
  const input = heldInside({ ...asked, products: choosable(asked), mostReplaced: replaceable(asked) });
  const told = { ...input, goals: asked.goals };
  const litres = basinLitres("litres", input.litres);
  const start = totalsOf(input.water);
  const effects = input.products.map((product) => effectPerGram(product));
  let reference = referenceOf(
    { ...start, chlorine: Math.max(start.chlorine, molar.chlorine(input.goals.freeChlorine.aim)) },
    input.goals.ph.aim,
  );
  let best: Omit<Solved, "passes" | "settled"> | null = null;
  let chosen = "";
  let fixed: ReadonlyMap<string, number> | null = null;
  for (let passes = 1; ; passes++) {
    const programme = programmeOf(input, litres, start, effects, reference);
    // Once two passes have chosen the same products, the rest is how much of each.
    const values: ReadonlyMap<string, number> | null = solver(
      lpText(fixed ? withChoice(programme, fixed) : programme),
    );
    if (!values) {
      if (!fixed) throw new InputFault("inconsistent", "plan", "no solution");
      // What was chosen at the last water cannot be at this one: choose anew.
      fixed = null;
      chosen = "";
      if (passes < MOST_PASSES) continue;
    }
    if (values) {
      const amounts = amountsOf(input.products, litres, values);
      const totals = waterAfter(input, amounts);
      const after = readingsOf(totals);
      const found = judged(input, amounts, after);
      const settled = Math.abs(after.ph - reference.ph) < SETTLED_PH;
      if (settled) return { ...judged(told, amounts, after), passes, settled };
      if (!best || found.score < best.score) best = found;
      const choice = programme.binaries.filter((name) => (values.get(name) ?? 0) > 0.5).join(" ");
      if (!fixed && choice === chosen) fixed = values;
      chosen = choice;
      reference = referenceOf(totals, after.ph);
    }
    if (passes < MOST_PASSES) continue;
    if (!best) throw new InputFault("inconsistent", "plan", passes);
    return { ...judged(told, best.amounts, best.after), passes, settled: false };
  }
}

/**
 * A pH that was inside its limits ends a step of its test inside them, or where it was: what is dosed for
 * the others does not leave it at the edge.
 */
export function heldInside(input: PlanInput): PlanInput {
  const { ph } = input.goals;
  const now = input.water.ph;
  if (ph.steer || !ph.known || ph.low === null || ph.high === null) return input;
  if (ph.high - ph.low <= 2 * TEST_STEP.ph) return input;
  const low = Math.max(ph.low, Math.min(now, ph.low + TEST_STEP.ph));
  const high = Math.min(ph.high, Math.max(now, ph.high - TEST_STEP.ph));
  return { ...input, goals: { ...input.goals, ph: { ...ph, low, high } } };
}

/**
 * The share of the water that may be replaced: as much as brings down what nothing else does, and not
 * a litre for what a bottle of acid would mend.
 */
function replaceable({ goals, water, fill, mostReplaced }: PlanInput): number {
  if (!fill) return 0;
  const shares = (["calciumHardness", "cyanuricAcid"] as const).map((quantity) => {
    const { steer, high } = goals[quantity];
    if (!steer || high === null || water[quantity] <= high) return 0;
    // Water that is hardly better would have to be replaced whole.
    return fill[quantity] >= high ? 0 : (water[quantity] - high) / (water[quantity] - fill[quantity]);
  });
  const needed = Math.max(0, ...shares);
  return needed === 0 || mostReplaced < LEAST_REPLACED
    ? 0
    : Math.min(mostReplaced, Math.max(needed, LEAST_REPLACED));
}

function amountsOf(
  products: readonly PlanProduct[],
  litres: number,
  values: ReadonlyMap<string, number>,
): Amounts {
  const grams = new Map<string, number>();
  products.forEach((product, index) => {
    const perLitre = values.get(`x${index}`) ?? 0;
    if (perLitre > NONE) grams.set(product.key, (perLitre * litres) / 1000);
  });
  const some = (name: string) => {
    const value = values.get(name) ?? 0;
    return value > 1e-7 ? value : 0;
  };
  return { grams, replaced: some("f"), aerated: some("a") };
}
