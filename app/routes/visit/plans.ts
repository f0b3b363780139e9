import { plansOfVisit } from "#server/visits/plan";
import { uuidSchema } from "#server/visits/schemas";
import { openVisit } from "#server/visits/visit";
import { inFirm, notFound } from "../../context";
import type { Route } from "./+types/plans";

/** The plans of a visit, for a page whose worker cannot make them. */
export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, _, now) => {
    if (uuidSchema.validate(params.visitId).error) return notFound();
    const opened = await openVisit(scope, params.visitId, now);
    if (!opened) return notFound();
    return Response.json(await plansOfVisit(opened));
  });
