import { doseStep } from "../dosing/plan/steps";
import { effectPerGram } from "../products/products";
import { BROMINE_FACTOR } from "../water/chlorine";
import { molar } from "../water/molar";
import { pick, recipeOf, task } from "./parts";
import type { Make } from "./recipe";

/** Share of free chlorine that goes in a day by itself, sun on the water and without. */
const LOST_A_DAY = { outdoors: 0.35, indoors: 0.12 } as const;
/** Above this, bathers and the tests themselves suffer: it closes in every school. mg/L */
const TOO_HIGH = 10;

/**
 * Too much chlorine: it falls by itself, or half the reducer's dose is given and the water tested
 * again, because how much a gram takes depends on what it meets.
 */
export const chlorineTooHigh: Make = (given) => {
  const { input, setting, indoors } = given;
  const { bromine } = given;
  if (bromine === null) return "needs-bromine";
  // Bromine is told as the chlorine that is as much of it: the reducer takes either, mole by mole.
  const freeChlorine = bromine ? bromine.value / BROMINE_FACTOR : input.water.freeChlorine;
  const limit = bromine ? bromine.high / BROMINE_FACTOR : (input.goals.freeChlorine.high ?? TOO_HIGH);
  if (freeChlorine <= limit) return "nothing-to-do";
  const days = Math.log(freeChlorine / limit) / -Math.log(1 - LOST_A_DAY[indoors ? "indoors" : "outdoors"]);
  const product = pick(input.products, ["sodium-thiosulfate"]);
  const whole = product
    ? (molar.chlorine(freeChlorine - limit) * input.litres) / -effectPerGram(product).chlorine
    : 0;
  const retest = {
    kind: "retest" as const,
    quantities: [bromine ? ("bromine" as const) : ("freeChlorine" as const), "ph" as const],
    waitMinutes: 0,
    cautions: ["closed-until" as const, "label-outranks" as const],
  };
  return recipeOf(
    "chlorine-too-high",
    given,
    product && freeChlorine > (bromine ? limit : TOO_HIGH)
      ? [doseStep(product, whole / 2, input.litres, setting), retest]
      : [task("wait-for-chlorine", 24 * 60, ["cover-watched", "nobody-in"]), retest],
    bromine ? { days } : { days, freeChlorine: limit },
  );
};
