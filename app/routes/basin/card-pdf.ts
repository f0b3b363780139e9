import { isUuid } from "#server/commands/fields";
import { basinById } from "#server/db/basins";
import { cardOf } from "#server/db/cards";
import { firmOf } from "#server/db/firms";
import { cardSheet } from "#server/visits/card-sheet";
import { inFirm, notFound, workerOnly } from "../../context";
import { cardPdfResponse } from "../card/pdf.server";
import type { Route } from "./+types/card-pdf";

/** The card that hangs at a basin, on paper. */
export const loader = async ({ params, context }: Route.LoaderArgs) => {
  const sheet = await inFirm(context, async (scope, member) => {
    workerOnly(member);
    const basin = isUuid(params.basinId) ? await basinById(scope, params.basinId) : undefined;
    const card = basin && (await cardOf(scope, basin.id));
    return basin && card ? cardSheet(card, basin, await firmOf(scope)) : notFound();
  });
  return cardPdfResponse(sheet, context);
};
