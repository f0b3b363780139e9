import { type CountState, InputFault } from "#core";
import { checked } from "#core/schemas";
import { keepCount } from "#server/db/counts";
import { visitById } from "#server/db/visits";
import { countSchema, uuidSchema } from "#server/visits/schemas";
import { inFirm, notFound, refuse } from "../../context";
import type { Route } from "./+types/counts";

/** Keeps a count under way; answers with the one that stands, see `laterCount`. */
export async function action({ params, request, context }: Route.ActionArgs) {
  try {
    const visitId = checked(uuidSchema, params.visitId);
    const { methodId, ...state } = checked(countSchema, await request.json().catch(() => null));
    const stands: CountState = await inFirm(context, async (scope, member, now) => {
      if (!(await visitById(scope, visitId))) return notFound();
      return keepCount(scope, member.firmId, visitId, methodId, state, now);
    });
    return Response.json({ stands });
  } catch (fault) {
    if (fault instanceof InputFault) return refuse(fault);
    throw fault;
  }
}
