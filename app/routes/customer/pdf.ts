import { customerSheet } from "#server/visits/customer-sheet";
import { uuidSchema } from "#server/visits/schemas";
import { inFirm, notFound } from "../../context";
import type { Route } from "./+types/pdf";
import { pdfResponse } from "./pdf-response.server";

export async function loader({ params, context }: Route.LoaderArgs) {
  if (uuidSchema.validate(params.visitId).error) return notFound();
  const sheet = await inFirm(context, (scope) => customerSheet(scope, params.visitId));
  return sheet ? pdfResponse(sheet, context) : notFound();
}
