import { InputFault } from "#core";
import { checked } from "#core/schemas";
import { removePhoto, savePhoto } from "#server/db/photos";
import { checkedPhoto } from "#server/visits/photos";
import { uuidSchema } from "#server/visits/schemas";
import { holdOpenVisit } from "#server/visits/visit";
import { inFirm, refuse } from "../../context";
import type { Route } from "./+types/photos";

/** Keeps a photo of the visit, or takes one out of sight. */
export async function action({ params, request, context }: Route.ActionArgs) {
  const form = await request.formData();
  try {
    const visitId = checked(uuidSchema, params.visitId);
    const remove = form.get("remove");
    if (remove !== null) {
      const id = checked(uuidSchema, remove);
      await inFirm(context, async (scope, _, now) => {
        await holdOpenVisit(scope, visitId);
        await removePhoto(scope, { visitId }, id, now);
      });
      return { saved: true as const };
    }
    const id = checked(uuidSchema, form.get("id"));
    const photo = await checkedPhoto(form.get("photo"));
    await inFirm(context, async (scope, { firmId, memberId }, now) => {
      await holdOpenVisit(scope, visitId);
      await savePhoto(scope, { firmId, memberId, now }, { id, of: { visitId }, ...photo });
    });
    return { saved: true as const };
  } catch (fault) {
    if (fault instanceof InputFault) return refuse(fault);
    throw fault;
  }
}
