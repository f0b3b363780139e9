import { attemptJson } from "../../context";
import { carriedOut } from "../../device/action.server";
import { jsonFields } from "../../request";
import type { Route } from "./+types/counts";

/** Keeps a count under way; answers with the one that stands, see `laterCount`. */
export const action = ({ params, request, context }: Route.ActionArgs) =>
  attemptJson(async () => {
    const given = await jsonFields(request);
    const { record } = await carriedOut(context, { visitId: params.visitId, name: "count", given });
    const { keptAt: _, ...stands } = record.written.counts[`${given.methodId}`] ?? { keptAt: null };
    return { stands };
  });
