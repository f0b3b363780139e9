import { InputFault } from "#core";
import { checked } from "#core/schemas";
import { correctReading } from "#server/visits/correct";
import { correctionSchema, uuidSchema } from "#server/visits/schemas";
import { inFirmOnce, refuse } from "../../context";
import { jsonBody } from "../../request";
import { offlineAware } from "../../ui/offline";
import type { Route } from "./+types/correct";

/** Corrects a reading of a finished visit, with its reason. */
export async function action({ params, request, context }: Route.ActionArgs) {
  try {
    const visitId = checked(uuidSchema, params.visitId);
    const sent = checked(correctionSchema, await jsonBody(request));
    await inFirmOnce(context, sent.id, ["correct", visitId, sent], (scope, author) =>
      correctReading(scope, author, visitId, sent),
    );
    return { saved: sent.id };
  } catch (fault) {
    if (fault instanceof InputFault) return refuse(fault);
    throw fault;
  }
}

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());
