import type { Route } from "./+types/by-link-pdf";
import { cardNow } from "./opened.server";
import { cardPdfResponse } from "./pdf.server";

export const loader = async ({ params, context }: Route.LoaderArgs) =>
  cardPdfResponse((await cardNow(params.token, context)).sheet, context);
