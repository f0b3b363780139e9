import type { Route } from "./+types/shared-pdf";
import { pdfOf } from "./pdf.server";
import { sharedSheet } from "./shared.server";

export const loader = async ({ params, context }: Route.LoaderArgs) =>
  pdfOf(await sharedSheet(params.token, context));
