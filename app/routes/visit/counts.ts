import { type CountState, InputFault } from "#core";
import { checked } from "#core/schemas";
import { keepCount } from "#server/db/counts";
import { countSchema, uuidSchema } from "#server/visits/schemas";
import { faultView, inFirm, notFound } from "../../context";
import { jsonFields } from "../../request";
import type { Route } from "./+types/counts";

/** Keeps a count under way; answers with the one that stands, see `laterCount`. */
export async function action({ params, request, context }: Route.ActionArgs) {
  try {
    const visitId = checked(uuidSchema, params.visitId);
    const { methodId, ...state } = checked(countSchema, await jsonFields(request));
    const stands: CountState | null = await inFirm(context, (scope, _, now) =>
      keepCount(scope, visitId, methodId, state, now),
    );
    return Response.json({ stands: stands ?? notFound() });
  } catch (fault) {
    if (fault instanceof InputFault) return Response.json({ fault: faultView(fault) }, { status: 422 });
    throw fault;
  }
}
