import { isUuid } from "#server/commands/fields";
import { photoById } from "#server/db/photos";
import { inFirm, notFound, photoResponse } from "../../context";
import type { Route } from "./+types/photo";

/** One photo, for members of its firm. */
export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => {
    if ([params.visitId, params.photoId].some((id) => !isUuid(id))) return notFound();
    return photoResponse(await photoById(scope, { visitId: params.visitId }, params.photoId));
  });
