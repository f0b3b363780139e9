import { redirect } from "react-router";
import { InputFault } from "#core";
import { checked } from "#core/schemas";
import { beginPlan, settleStep, stopPlan } from "#server/visits/dosing";
import { planSchema, settledStepSchema, stopSchema, uuidSchema } from "#server/visits/schemas";
import { inFirm, refuse } from "../../context";
import { offlineAware } from "../../ui/offline";
import type { Route } from "./+types/plan";

/** Begins a plan, keeps how a step of it ended, or stops it. */
export async function action({ params, request, context }: Route.ActionArgs) {
  try {
    const visitId = checked(uuidSchema, params.visitId);
    const body = await request.json().catch(() => null);
    const write = (work: Parameters<typeof inFirm<void>>[1]) => inFirm(context, work);
    if (body?.stop !== undefined) {
      const { stop } = checked(stopSchema, body);
      await write((scope, { firmId, memberId }, now) =>
        stopPlan(scope, { firmId, memberId, now }, visitId, stop),
      );
      return redirect(`/visits/${visitId}/dose`);
    }
    if (body?.planId !== undefined) {
      const step = checked(settledStepSchema, body);
      await write((scope, { firmId, memberId }, now) =>
        settleStep(scope, { firmId, memberId, now }, visitId, step),
      );
      return { saved: `${step.position}.${step.state}` };
    }
    const plan = checked(planSchema, body);
    await write((scope, { firmId, memberId }, now) =>
      beginPlan(scope, { firmId, memberId, now }, visitId, plan),
    );
    return redirect(`/visits/${visitId}/dose`);
  } catch (fault) {
    if (fault instanceof InputFault) return refuse(fault);
    throw fault;
  }
}

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());
