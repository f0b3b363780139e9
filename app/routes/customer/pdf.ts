import { isUuid } from "#server/commands/fields";
import { shownPhotosOf } from "#server/db/photos";
import { customerSheet } from "#server/visits/customer-sheet";
import { inFirmLately, notFound } from "../../context";
import type { Route } from "./+types/pdf";
import { pdfResponse } from "./pdf-response.server";

export async function loader({ params, request, context }: Route.LoaderArgs) {
  if (!isUuid(params.visitId)) return notFound();
  const { asOf, ...paper } = await inFirmLately(request, context, async (scope, _member, _now, asOf) => ({
    sheet: (await customerSheet(scope, params.visitId)) ?? notFound(),
    photos: await shownPhotosOf(scope, params.visitId),
    asOf,
  }));
  return pdfResponse(paper, context, asOf);
}
