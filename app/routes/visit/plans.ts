import { plansOfVisit } from "#server/visits/plan";
import { uuidSchema } from "#server/visits/schemas";
import { openVisit } from "#server/visits/visit";
import { inFirm, notFound, servicesContext } from "../../context";
import type { Route } from "./+types/plans";

/** The plans of a visit, for a page whose worker cannot make them. */
export async function loader({ params, context }: Route.LoaderArgs) {
  if (uuidSchema.validate(params.visitId).error) return notFound();
  const opened = await inFirm(context, (scope, _, now) => openVisit(scope, params.visitId, now));
  if (!opened) return notFound();
  // No connection is held while the planner works.
  return Response.json(await plansOfVisit(opened, context.get(servicesContext).work));
}
