import { isUuid } from "#server/commands/fields";
import { photoById } from "#server/db/photos";
import { inFirm, notFound, photoResponse } from "../../context";
import type { Route } from "./+types/photo";

/** One photo of a basin. */
export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => {
    if ([params.basinId, params.photoId].some((id) => !isUuid(id))) return notFound();
    return photoResponse(await photoById(scope, { basinId: params.basinId }, params.photoId));
  });
