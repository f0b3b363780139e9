import { redirect } from "react-router";
import { checked } from "#core/schemas";
import { beginPlan, settleStep, stopPlan } from "#server/visits/dosing";
import { planSchema, settledStepSchema, stopSchema, uuidSchema } from "#server/visits/schemas";
import { attempt, inFirmOnce, servicesContext } from "../../context";
import { jsonFields } from "../../request";
import { offlineAware } from "../../ui/offline";
import type { Route } from "./+types/plan";

/** Begins a plan, keeps how a step of it ended, or stops it. */
export async function action({ params, request, context }: Route.ActionArgs) {
  return attempt(async () => {
    const visitId = checked(uuidSchema, params.visitId);
    const body = await jsonFields(request);
    if (body.stop !== undefined) {
      const sent = checked(stopSchema, body);
      await inFirmOnce(context, sent.id, ["stop", visitId, sent], (scope, author) =>
        stopPlan(scope, author, visitId, sent),
      );
      return redirect(`/visits/${visitId}/dose`);
    }
    if (body.planId !== undefined) {
      const step = checked(settledStepSchema, body);
      await inFirmOnce(context, step.id, ["step", visitId, step], (scope, author) =>
        settleStep(scope, author, visitId, step),
      );
      return { saved: `${step.position}.${step.state}` };
    }
    const plan = checked(planSchema, body);
    const { work } = context.get(servicesContext);
    await inFirmOnce(context, plan.id, ["plan", visitId, plan], (scope, author) =>
      beginPlan(scope, author, visitId, plan, work),
    );
    return redirect(`/visits/${visitId}/dose`);
  });
}

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());
