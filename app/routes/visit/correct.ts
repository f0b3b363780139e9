import { InputFault } from "#core";
import { checked } from "#core/schemas";
import { correctReading } from "#server/visits/correct";
import { correctionSchema, uuidSchema } from "#server/visits/schemas";
import { inFirm, refuse } from "../../context";
import type { Route } from "./+types/correct";

/** Corrects a reading of a finished visit, with its reason. */
export async function action({ params, request, context }: Route.ActionArgs) {
  try {
    const visitId = checked(uuidSchema, params.visitId);
    const sent = checked(correctionSchema, await request.json().catch(() => null));
    await inFirm(context, (scope, { firmId, memberId }, now) =>
      correctReading(scope, { firmId, memberId, now }, visitId, sent),
    );
    return { saved: sent.id };
  } catch (fault) {
    if (fault instanceof InputFault) return refuse(fault);
    throw fault;
  }
}
