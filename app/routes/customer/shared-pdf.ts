import type { Route } from "./+types/shared-pdf";
import { pdfResponse } from "./pdf-response.server";
import { sharedSheet } from "./shared.server";

export const loader = async ({ params, context }: Route.LoaderArgs) =>
  pdfResponse(await sharedSheet(params.token, context), context);
