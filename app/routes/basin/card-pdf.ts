import { isUuid } from "#server/commands/fields";
import { basinById } from "#server/db/basins";
import { cardOf } from "#server/db/cards";
import { firmOf } from "#server/db/firms";
import { cardSheet } from "#server/visits/card-sheet";
import { inFirmLately, notFound, workerOnly } from "../../context";
import { inLanguage } from "../../language.server";
import { cardPdfResponse } from "../card/pdf.server";
import type { Route } from "./+types/card-pdf";

/** The card that hangs at a basin, on paper. */
export const loader = async ({ params, request, context }: Route.LoaderArgs) => {
  const { sheet, language } = await inFirmLately(request, context, async (scope, member) => {
    workerOnly(member);
    const basin = isUuid(params.basinId) ? await basinById(scope, params.basinId) : undefined;
    const card = basin && (await cardOf(scope, basin.id));
    if (!basin || !card) return notFound();
    return { sheet: cardSheet(card, basin, await firmOf(scope)), language: basin.site.language };
  });
  return inLanguage(language, () => cardPdfResponse(sheet, context));
};
