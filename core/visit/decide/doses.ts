import { InputFault } from "../../fault";
import type { StepInput, VisitCommand } from "../commands";
import type { Fact } from "../facts";
import { judge } from "../judgement";
import { labelCode, labelledAt } from "../labelled";
import { planKept } from "../plans";
import { problemOf } from "../problem";
import { doseCode } from "../promises";
import { type OpenedVisit, planUnderWay, visitOf } from "../visit";
import type { VisitDose, VisitPlan, Written } from "../written";
import type { DecisionInput } from "./input";
import { jobBegun } from "./jobs";
import { fact, isDecided, isUnaware } from "./seen";

/** What was given for a finding or by a label, beside what was planned. Nothing given takes a dose back. */
export function recordDose({ brought, written, command }: DecisionInput<"give">): Fact[] {
  const { code, productId, givenGrams } = command.given;
  const opened = visitOf(brought, written, command.at);
  const product = opened.products.find((known) => known.id === productId);
  if (!product) throw new InputFault("unknown", "productId", productId);
  const planned = plannedFor(opened, code, product.id);
  if (planned === null && !isDecided(command.seen)) throw new InputFault("unknown", "code", code);
  return [
    gave(written, command, {
      id: command.id,
      visitId: opened.visit.id,
      productId: product.id,
      code,
      // What went in went in, whatever was found since by somebody else.
      plannedGrams: planned ?? givenGrams,
      givenGrams,
      givenAt: command.at,
    }),
  ];
}

/** What a finding asks for, or a label; null where nothing does. */
function plannedFor(opened: OpenedVisit, code: string, productId: string): number | null {
  // A label speaks for its own product only.
  const labelled =
    code === labelCode(productId)
      ? labelledAt(opened).find(({ product }) => product === productId)
      : undefined;
  if (labelled) return labelled.grams;
  const advice = judge(opened).advice.find((one) => one.kind === "dose" && one.finding.code === code);
  return advice?.kind === "dose" ? advice.grams : null;
}

const gave = (written: Written, command: Pick<VisitCommand, "by" | "at">, dose: VisitDose): Fact =>
  fact(command, "gave", {
    dose,
    supersedes: written.doses.find(({ code }) => code === dose.code)?.id ?? null,
  });

/**
 * Begins a plan, and ends the one before. One that a planner found is checked, wherever it was found.
 * @throws InputFault when the readings pose no problem, have changed, or the plan is not safe
 */
export function beginPlan({ brought, written, command }: DecisionInput<"begin-plan">): Fact[] {
  const { id, given, seen, at } = command;
  const unseen = isUnaware(written, seen);
  const opened = visitOf(brought, written, at);
  const recipe = given.origin === "recipe" ? given.name : undefined;
  const { name, content } = planKept(problemOf(opened, recipe), given, unseen);
  const before = planUnderWay(written);
  const begun = fact(command, "planned", {
    plan: { id, visitId: brought.visit.id, round: written.plans.length, origin: given.origin, name, content },
  });
  return [
    ...(before ? [fact(command, "stopped", { planId: before.id, why: "" })] : []),
    begun,
    ...(recipe === undefined ? [] : jobBegun(opened, recipe, command)),
    // Begun where nobody knew that the visit was closed: its doses are taken in, nothing is led on.
    ...(written.finishedAt ? [fact(command, "stopped", { planId: id, why: "" })] : []),
  ];
}

/** How a step of a plan ended, and what was given for it. */
export function settleStep({ brought, written, command }: DecisionInput<"settle-step">): Fact[] {
  const { planId, position, state, why } = command.given;
  const plan = written.plans.find((one) => one.id === planId);
  if (!plan) throw new InputFault("unknown", "planId", planId);
  const step = plan.content.steps[position];
  if (!step) throw new InputFault("too-high", "position", position, plan.content.steps.length - 1);
  if (state === "skipped" && !why.trim()) throw new InputFault("missing", "why", why);
  const facts =
    step.kind === "dose"
      ? doseOfStep(written, command, plan, {
          visitId: brought.visit.id,
          productId: step.product,
          plannedGrams: step.grams,
        })
      : [];
  if (state === "open") return [...facts, fact(command, "reopened", { planId, position })];
  // Given once more or corrected, a dose still went in when it went in: the wait runs from then.
  const before = plan.settled.find((one) => one.position === position && one.state === state);
  return [
    ...facts,
    fact(command, "settled", {
      planId,
      step: { position, state, why: state === "skipped" ? why.trim() : "", at: before?.at ?? command.at },
    }),
  ];
}

function doseOfStep(
  written: Written,
  command: { given: StepInput } & Pick<VisitCommand, "by" | "at">,
  plan: VisitPlan,
  of: Pick<VisitDose, "visitId" | "productId" | "plannedGrams">,
): Fact[] {
  const { state, dose, position } = command.given;
  const code = doseCode(plan.id, position);
  const standing = written.doses.find((one) => one.code === code);
  if (state === "done" && !dose) throw new InputFault("missing", "givenGrams", undefined);
  // Skipped or to do again: what was kept as given is taken back.
  const given = state === "done" ? (dose?.givenGrams ?? 0) : 0;
  if (!dose || (state !== "done" && !standing)) return [];
  const givenAt = standing && given > 0 && standing.givenGrams > 0 ? standing.givenAt : command.at;
  return [gave(written, command, { ...of, id: dose.id, code, givenGrams: given, givenAt })];
}

/** Stops the plan that is under way; what went in stays in the book. */
export function stopPlan({ written, command }: DecisionInput<"stop-plan">): Fact[] {
  const { stop, planId, retested } = command.given;
  const why = stop.trim();
  if (!why && !retested) throw new InputFault("missing", "why", stop);
  const underWay = planUnderWay(written);
  if (planId && underWay?.id !== planId) {
    // Ended by somebody else in the meantime: it is ended.
    if (isDecided(command.seen)) return [];
    throw new InputFault("changed", "plan", planId);
  }
  return underWay ? [fact(command, "stopped", { planId: underWay.id, why: retested ? "" : why })] : [];
}
