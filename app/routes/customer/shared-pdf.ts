import type { Route } from "./+types/shared-pdf";
import { pdfResponse } from "./pdf-response.server";
import { sharedPaper } from "./shared.server";

export const loader = async ({ params, context }: Route.LoaderArgs) =>
  pdfResponse(await sharedPaper(params.token, context), context);
