import { doseStep, WAIT_MINUTES } from "../dosing/plan/steps";
import { gramsForChange } from "../dosing/single";
import { clearCombined } from "../water/chlorine";
import { pick, recipeOf, task } from "./parts";
import type { Make } from "./recipe";

/** Free chlorine to ten times the combined, in the evening, cover off. */
export const breakpoint: Make = (given) => {
  const { input, setting, combinedChlorine } = given;
  if (combinedChlorine === null) return "needs-combined";
  if (combinedChlorine <= 0) return "nothing-to-do";
  const { breakpoint: goal } = clearCombined(combinedChlorine, input.water.freeChlorine);
  if (goal.raise <= 0) return "nothing-to-do";
  // Stabilised chlorine would leave its stabiliser behind; calcium hypochlorite its calcium.
  const product = pick(input.products, ["sodium-hypochlorite", "calcium-hypochlorite", "dichlor"]);
  if (!product) return "no-product";
  const grams = gramsForChange(product, "freeChlorine", goal.raise, input.litres);
  const dose = doseStep(product, grams, input.litres, { ...setting, sanitiserFirst: true });
  return recipeOf(
    "breakpoint",
    given,
    [
      ...(given.indoors ? [] : [task("evening")]),
      task("cover-off", 0, ["nobody-in"]),
      dose,
      task("brush", setting.kind === "spa" ? 60 : 480, ["closed-until"]),
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
  const { input, setting, combinedChlorine, persulfateDose } = given;
  if (combinedChlorine === null) return "needs-combined";
  if (combinedChlorine <= 0) return "nothing-to-do";
  const product = pick(input.products, ["potassium-monopersulfate"]);
  if (!product) return "no-product";
  const grams = (persulfateDose * input.litres) / 1000;
  return recipeOf("persulfate", given, [
    task("cover-off", 0, ["nobody-in"]),
    { ...doseStep(product, grams, input.litres, setting), waitMinutes: WAIT_MINUTES[setting.kind] },
    task("brush", 0, ["reads-as-combined"]),
    {
      kind: "retest",
      quantities: ["freeChlorine", "ph"],
      waitMinutes: 0,
      cautions: ["closed-until", "label-outranks"],
    },
  ]);
};
