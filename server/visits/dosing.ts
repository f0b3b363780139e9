import {
  ALTERNATIVES,
  type Amounts,
  amountsOf,
  InputFault,
  judged,
  outcomeOf,
  type PlanInput,
  type PlanStep,
  type Prospect,
  promisedSteps,
  RECIPE_IDS,
  readingsOf,
  type StepSetting,
  safelyReplaced,
  waterAfter,
  wayOf,
  withPromises,
} from "#core";
import type { Author } from "../author";
import type { FirmScope } from "../db/connection";
import { type StoredDose, saveDose } from "../db/doses";
import {
  endPlan,
  insertPlan,
  type PlanContent,
  type PlanOrigin,
  plansOf,
  reopenStep,
  type StoredPlan,
  saveOutcome,
  saveStep,
} from "../db/plans";
import type { StoredReading } from "../db/readings";
import type { Workbench } from "../work/workbench";
import { problemOf, recipeInputOf } from "./plan";
import { holdOpenVisit, type OpenedVisit, openVisit, planUnderWay } from "./visit";

/** From a plan that is chosen to what its retest says: begun, led through, held against its promise. */

export type SentPlan = { id: string } & (
  | { origin: "alternative"; name: string }
  | { origin: "recipe"; name: string }
  | { origin: "what-if"; grams: Record<string, number>; replaced: number; aerated: number }
);

/**
 * Begins a plan: works it out again from the readings that stand, keeps it, and ends the one before.
 *
 * @throws InputFault when the readings pose no problem, or the name is none of theirs
 */
export async function beginPlan(
  scope: FirmScope,
  author: Author,
  visitId: string,
  sent: SentPlan,
  work: Workbench,
): Promise<void> {
  await holdOpenVisit(scope, visitId);
  const opened = await openVisit(scope, visitId, author.now);
  if (!opened) throw new InputFault("unknown", "visit", visitId);
  const { name, content } = await contentOf(opened, sent, work);
  await endPlan(scope, visitId, "", author.now);
  await insertPlan(scope, author, {
    id: sent.id,
    visitId,
    round: opened.plans.length,
    origin: sent.origin satisfies PlanOrigin,
    name,
    content,
  });
}

async function contentOf(
  opened: OpenedVisit,
  sent: SentPlan,
  work: Workbench,
): Promise<{ name: string; content: PlanContent }> {
  const problem = problemOf(opened);
  if ("reason" in problem)
    throw new InputFault(
      "inconsistent",
      "readings",
      problem.reason,
      "quantity" in problem ? problem.quantity : "",
    );
  const { input, spreads, setting } = problem;
  const kept = {
    basis: basisOf(input),
    spreads: spreads ?? null,
  };
  switch (sent.origin) {
    case "alternative": {
      const plan = (await work.plans(problem))?.plans.find((one) => one.name === sent.name);
      if (!plan) throw new InputFault("unknown", "name", sent.name, ALTERNATIVES);
      const { after, saturation, cost, steps, heldBack, missed } = plan;
      return {
        name: plan.name,
        content: { ...kept, after, saturation, cost, steps, heldBack, missed, facts: {} },
      };
    }
    case "recipe": {
      const id = RECIPE_IDS.find((known) => known === sent.name);
      if (!id) throw new InputFault("unknown", "name", sent.name, RECIPE_IDS);
      const given = recipeInputOf(opened);
      if ("reason" in given) throw new InputFault("inconsistent", "readings", given.reason);
      const recipe = await work.recipe(id, given);
      if (typeof recipe === "string") throw new InputFault("inconsistent", "recipe", id, recipe);
      const { steps, after, cost, facts } = recipe;
      const { saturation } = judged(input, { grams: new Map(), replaced: 0, aerated: 0 }, after);
      return {
        name: id,
        content: { ...kept, after, saturation, cost, steps, heldBack: [], missed: [], facts },
      };
    }
    case "what-if": {
      const amounts = amountsOf(sent);
      for (const key of amounts.grams.keys())
        if (!input.products.some((product) => product.key === key))
          throw new InputFault(
            "unknown",
            "grams",
            key,
            input.products.map((product) => product.key),
          );
      if (amounts.replaced > 0 && !input.fill) throw new InputFault("missing", "fill", undefined);
      refuseUnsafe(input, amounts, setting);
      const after = readingsOf(waterAfter(input, amounts));
      const { saturation, cost, missed } = judged(input, amounts, after);
      const steps = promisedSteps(input, amounts, [], setting, spreads ? { spreads } : {});
      if (steps.length === 0) throw new InputFault("missing", "grams", 0);
      return {
        name: "what-if",
        content: {
          ...kept,
          after,
          saturation,
          cost,
          steps,
          heldBack: [],
          missed: missed.map((miss) => ({ ...miss, obstacle: "chosen" as const })),
          facts: {},
        },
      };
    }
  }
}

/** Amounts chosen by hand that no order makes safe are not begun: the fault says how much would be. */
function refuseUnsafe(input: PlanInput, amounts: Amounts, setting: StepSetting): void {
  const { given, complete } = wayOf(input, amounts, setting);
  if (complete) return;
  if (given.replaced < amounts.replaced)
    throw new InputFault("too-high", "replaced", amounts.replaced, safelyReplaced(input, amounts.replaced));
  for (const [key, grams] of amounts.grams) {
    const safe = given.grams.get(key) ?? 0;
    if (safe < grams * (1 - 1e-6))
      throw new InputFault("too-high", "grams", Math.round(grams), Math.floor(safe));
  }
  throw new InputFault("too-high", "aerated", amounts.aerated, given.aerated);
}

const basisOf = ({ water, litres, products, fill }: PlanInput): PlanContent["basis"] => ({
  water,
  litres,
  products,
  fill,
});

export interface SentStep {
  id?: string | undefined;
  planId: string;
  position: number;
  state: "done" | "skipped" | "open";
  /** Asked for when a step is skipped. */
  why: string;
  /** What was really given, for a dose. */
  dose?: { id: string; givenGrams: number } | undefined;
}

/** A dose of a plan is kept under the plan and the step's place in it. */
export const doseCode = (planId: string, position: number): string => `plan.${planId}.${position}`;

/** Keeps how a step of the plan under way ended, and what was given for it. */
export async function settleStep(
  scope: FirmScope,
  author: Author,
  visitId: string,
  sent: SentStep,
): Promise<void> {
  await holdOpenVisit(scope, visitId);
  const opened = await openVisit(scope, visitId, author.now);
  const plan = opened?.plans.find((one) => one.id === sent.planId);
  if (!opened || !plan) throw new InputFault("unknown", "planId", sent.planId);
  const step = plan.content.steps[sent.position];
  if (!step) throw new InputFault("too-high", "position", sent.position, plan.content.steps.length - 1);
  if (sent.state === "skipped" && !sent.why.trim()) throw new InputFault("missing", "why", sent.why);
  if (step.kind === "dose") await keepDose(scope, author, opened, plan, step, sent);
  if (sent.state === "open") await reopenStep(scope, plan.id, sent.position, author.now);
  else
    await saveStep(scope, author, plan.id, {
      position: sent.position,
      state: sent.state,
      why: sent.state === "skipped" ? sent.why.trim() : "",
      // Given once more or corrected, a dose still went in when it went in: the wait runs from then.
      at:
        plan.settled.find((one) => one.position === sent.position && one.state === sent.state)?.at ??
        author.now,
    });
}

async function keepDose(
  scope: FirmScope,
  author: Author,
  opened: OpenedVisit,
  plan: StoredPlan,
  step: Extract<PlanStep, { kind: "dose" }>,
  sent: SentStep,
): Promise<void> {
  const code = doseCode(plan.id, sent.position);
  const standing = opened.doses.find((dose) => dose.code === code);
  if (sent.state === "done" && !sent.dose) throw new InputFault("missing", "givenGrams", undefined);
  // Skipped or to do again: what was kept as given is taken back.
  const given = sent.state === "done" ? (sent.dose?.givenGrams ?? 0) : 0;
  if (!sent.dose || (sent.state !== "done" && !standing)) return;
  await saveDose(scope, author.firmId, author.memberId, {
    id: sent.dose.id,
    visitId: opened.visit.id,
    productId: step.product,
    code,
    plannedGrams: step.grams,
    givenGrams: given,
    givenAt: standing && given > 0 && standing.givenGrams > 0 ? standing.givenAt : author.now,
  });
}

export interface SentStop {
  id?: string | undefined;
  /** Why. */
  stop: string;
  /** The plan that is meant: a later one is not stopped. */
  planId?: string | undefined;
  /** It was led to its retest and ends by itself: there is no reason to give. */
  retested: boolean;
}

/** Stops the plan that is under way; what went in stays in the book. */
export async function stopPlan(
  scope: FirmScope,
  author: Author,
  visitId: string,
  sent: SentStop,
): Promise<void> {
  await holdOpenVisit(scope, visitId);
  const why = sent.stop.trim();
  if (!why && !sent.retested) throw new InputFault("missing", "why", sent.stop);
  const underWay = planUnderWay({ plans: await plansOf(scope, visitId) });
  if (sent.planId && underWay?.id !== sent.planId) throw new InputFault("changed", "plan", sent.planId);
  await endPlan(scope, visitId, sent.retested ? "" : why, author.now);
}

/** The steps of a plan with what was really given in place of what was planned, and its promises for that. */
export function stepsAsGiven(plan: StoredPlan, doses: readonly StoredDose[]): PlanStep[] {
  const given = plan.content.steps.map((step, position) => {
    if (step.kind !== "dose" || !plan.settled.some((one) => one.position === position)) return step;
    const dose = doses.find((one) => one.code === doseCode(plan.id, position));
    return { ...step, grams: dose?.givenGrams ?? 0 };
  });
  const asPlanned = given.every((step, position) => {
    const planned = plan.content.steps[position];
    return (
      step.kind !== "dose" ||
      planned?.kind !== "dose" ||
      Math.abs(step.grams - planned.grams) <= 0.01 * planned.grams
    );
  });
  if (asPlanned) return plan.content.steps;
  const { basis, spreads } = plan.content;
  return withPromises(basis, given, spreads ? { spreads } : {});
}

/** What the plan promises for a quantity at the retest that comes next, by what was given. */
export function prospectOf(
  plan: StoredPlan,
  doses: readonly StoredDose[],
  quantity: string,
): Prospect | null {
  const settledUpTo = Math.max(-1, ...plan.settled.map((one) => one.position));
  const retests = stepsAsGiven(plan, doses).flatMap((step, position) =>
    step.kind === "retest" && step.quantities.some((one) => one === quantity) ? [{ step, position }] : [],
  );
  // A recipe tests in between: the first retest that is not passed yet, or else the last.
  const chosen = retests.find(({ position }) => position > settledUpTo) ?? retests.at(-1);
  const promised = chosen?.step.promised as Record<string, Prospect> | undefined;
  return promised?.[quantity] ?? null;
}

/** Holds a reading against what the last plan promised for it, and keeps what came of it. */
export async function keepOutcome(
  scope: FirmScope,
  firmId: string,
  opened: OpenedVisit,
  reading: StoredReading,
): Promise<void> {
  const plan = planUnderWay(opened);
  if (!plan || reading.round !== plan.round + 1) return;
  const prospect = prospectOf(plan, opened.doses, reading.quantity);
  if (!prospect) return;
  const outcome = outcomeOf(prospect, reading);
  await saveOutcome(scope, firmId, plan.id, reading.id, { ...outcome, quantity: reading.quantity });
}
