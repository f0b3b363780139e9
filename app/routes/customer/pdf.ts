import { isUuid } from "#server/commands/fields";
import { customerSheet } from "#server/visits/customer-sheet";
import { inFirm, notFound } from "../../context";
import type { Route } from "./+types/pdf";
import { pdfResponse } from "./pdf-response.server";

export async function loader({ params, context }: Route.LoaderArgs) {
  if (!isUuid(params.visitId)) return notFound();
  const sheet = await inFirm(context, (scope) => customerSheet(scope, params.visitId));
  return sheet ? pdfResponse(sheet, context) : notFound();
}
