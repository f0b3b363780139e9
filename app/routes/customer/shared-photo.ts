import { isUuid } from "#server/commands/fields";
import { shownPhoto } from "#server/db/photos";
import { sharedVisit } from "#server/db/shares";
import { byLink, notFound, openedByLink, photoResponse } from "../../context";
import type { Route } from "./+types/shared-photo";

/** A photo on a sheet, for whoever has the sheet's link: only those that were chosen for it. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const { firmId, visitId } = await openedByLink(context, (db, now) => sharedVisit(db, params.token, now));
  if (!isUuid(params.photoId)) return notFound();
  return photoResponse(await byLink(context, firmId, (scope) => shownPhoto(scope, visitId, params.photoId)));
}
