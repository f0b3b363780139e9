import { solvePlan } from "../dosing/plan/solve";
import type { PlanStep } from "../dosing/plan/steps";
import { retested, WAIT_MINUTES } from "../dosing/plan/steps";
import { stepsOf } from "../dosing/plan/way";
import { TRAITS } from "../products/traits";
import { recipeOf, task } from "./parts";
import type { Make } from "./recipe";

/**
 * A fresh fill: calcium, then alkalinity, then pH, then a first dose of sanitiser, with the jets on and
 * a test between, so that each is settled before the next leans on it.
 */
export const freshFill: Make = (given, solver) => {
  const { input, setting } = given;
  const solved = solvePlan({ ...input, mostReplaced: 0 }, solver);
  const wait = WAIT_MINUTES[setting.kind];
  const doses = stepsOf(input, solved.amounts, { ...setting, freshFill: true, sanitiserFirst: false }).filter(
    (step) => step.kind === "dose" || step.kind === "aerate",
  );
  if (doses.length === 0) return "nothing-to-do";
  const steps: PlanStep[] = [
    task("check-equipment"),
    task(setting.kind === "spa" ? "jets-on" : "circulate-a-day", wait),
  ];
  doses.forEach((step, index) => {
    steps.push({ ...step, waitMinutes: Math.max(step.waitMinutes, wait) });
    const next = doses[index + 1];
    const group = step.kind === "dose" ? TRAITS[step.compound].group : "ph";
    const goesOn = next && (next.kind === "dose" ? TRAITS[next.compound].group : "ph") === group;
    const quantities =
      step.kind === "dose"
        ? retested([{ product: step.compound }])
        : retested([{ product: "hydrochloric-acid" }]);
    if (!goesOn && quantities.length > 0)
      steps.push({
        kind: "retest",
        quantities,
        waitMinutes: 0,
        cautions: next ? [] : ["closed-until", "label-outranks"],
      });
  });
  return recipeOf("fresh-fill", given, steps);
};
