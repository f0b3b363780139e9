import { doseStep, WAIT_MINUTES } from "../dosing/plan/steps";
import { gramsForChange } from "../dosing/single";
import { clearCombined } from "../water/chlorine";
import { mostShock } from "./most-shock";
import { pick, recipeOf, surroundings, task } from "./parts";
import type { Make, NoRecipe, RecipeInput } from "./recipe";

/**
 * Why combined chlorine is not burned off here and now: an amount that rests on what nobody read is a guess, a
 * pH that is over makes chlorine weak and the air sharp, and short of the whole amount the water gets worse.
 */
function whyNotNow({
  input,
  combinedChlorine,
  combinedUnsure,
}: RecipeInput): Exclude<NoRecipe, "no-product"> | null {
  const { ph, freeChlorine } = input.goals;
  if (combinedChlorine === null) return "needs-combined";
  if (combinedChlorine <= 0) return "nothing-to-do";
  if (combinedUnsure) return "combined-unsure";
  if (!freeChlorine.known) return "needs-free";
  return ph.high !== null && input.water.ph > ph.high ? "ph-first" : null;
}

const bromineNotNow = ({ input, bromine }: RecipeInput): NoRecipe | null => {
  const { ph } = input.goals;
  if (!bromine) return "needs-bromine";
  if (bromine.value > bromine.high) return "nothing-to-do";
  return ph.high !== null && input.water.ph > ph.high ? "ph-first" : null;
};

/** Free chlorine to ten times the combined, in the evening, with nobody there but who watches. */
export const breakpoint: Make = (given) => {
  const { input, setting, combinedChlorine } = given;
  // There is no breakpoint with bromine, and nothing to burn off.
  if (given.bromine !== undefined) return "nothing-to-do";
  const why = whyNotNow(given);
  if (why !== null || combinedChlorine === null) return why ?? "needs-combined";
  const { breakpoint: goal } = clearCombined(combinedChlorine, input.water.freeChlorine);
  if (goal.raise <= 0) return "nothing-to-do";
  if (goal.freeChlorine > mostShock(given.surface)) return "combined-too-much";
  // Stabilised chlorine would leave its stabiliser behind; calcium hypochlorite its calcium.
  const product = pick(input.products, ["sodium-hypochlorite", "calcium-hypochlorite", "dichlor"]);
  if (!product) return "no-product";
  const grams = gramsForChange(product, "freeChlorine", goal.raise, input.litres);
  const dose = doseStep(product, grams, input.litres, { ...setting, sanitiserFirst: true });
  return recipeOf(
    "breakpoint",
    given,
    [
      ...surroundings(given.indoors),
      dose,
      task("brush", setting.kind === "spa" ? 60 : 480, ["closed-until"]),
      task("cover-again", 0, ["cover-watched"]),
      {
        kind: "retest",
        quantities: ["freeChlorine", "combinedChlorine", "ph"],
        waitMinutes: 0,
        cautions: ["closed-until", "label-outranks"],
      },
    ],
    { freeChlorine: goal.freeChlorine },
  );
};

/** A persulfate oxidiser by its label: no chlorine goes in, and combined chlorine reads high for a day. */
export const persulfate: Make = (given) => {
  const { input, setting, persulfateDose, bromine } = given;
  // Combined bromine kills as free bromine does: a bromine basin is oxidised for what bathers leave.
  const why = bromine === undefined ? whyNotNow(given) : bromineNotNow(given);
  if (why !== null) return why;
  const product = pick(input.products, ["potassium-monopersulfate"]);
  if (!product) return "no-product";
  const grams = (persulfateDose * input.litres) / 1000;
  return recipeOf("persulfate", given, [
    ...surroundings(given.indoors),
    { ...doseStep(product, grams, input.litres, setting), waitMinutes: WAIT_MINUTES[setting.kind] },
    task("brush", 0, ["reads-as-combined"]),
    task("cover-again", 0, ["cover-watched"]),
    {
      kind: "retest",
      quantities: bromine === undefined ? ["freeChlorine", "ph"] : ["bromine", "ph"],
      waitMinutes: 0,
      cautions: ["closed-until", "label-outranks"],
    },
  ]);
};
