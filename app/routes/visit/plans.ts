import { horizonOf } from "#core";
import { isUuid } from "#server/commands/fields";
import { openVisit } from "#server/visits/open";
import { inFirm, notFound, servicesContext } from "../../context";
import type { Route } from "./+types/plans";

/** The plan of a visit, for a page whose worker cannot make them. */
export async function loader({ params, context }: Route.LoaderArgs) {
  if (!isUuid(params.visitId)) return notFound();
  const opened = await inFirm(context, (scope, { memberId }, now) =>
    openVisit(scope, { id: params.visitId, memberId }, now),
  );
  if (!opened) return notFound();
  // No connection is held while the planner works.
  const problem = horizonOf(opened);
  return Response.json("reason" in problem ? null : await context.get(servicesContext).work.ahead(problem));
}
