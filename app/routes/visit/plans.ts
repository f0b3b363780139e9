import { problemOf } from "#core";
import { openVisit } from "#server/visits/open";
import { uuidSchema } from "#server/visits/schemas";
import { inFirm, notFound, servicesContext } from "../../context";
import type { Route } from "./+types/plans";

/** The plans of a visit, for a page whose worker cannot make them. */
export async function loader({ params, context }: Route.LoaderArgs) {
  if (uuidSchema.validate(params.visitId).error) return notFound();
  const opened = await inFirm(context, (scope, _, now) => openVisit(scope, params.visitId, now));
  if (!opened) return notFound();
  // No connection is held while the planner works.
  const problem = problemOf(opened);
  return Response.json("reason" in problem ? null : await context.get(servicesContext).work.plans(problem));
}
