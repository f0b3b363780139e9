import { checked } from "#core/schemas";
import { photoOf, removePhoto, savePhoto } from "#server/db/photos";
import { checkedPhoto } from "#server/visits/photos";
import { uuidSchema } from "#server/visits/schemas";
import { holdOpenVisit } from "#server/visits/visit";
import { attempt, inFirm, inFirmOnce } from "../../context";
import { formBody } from "../../request";
import { offlineAware } from "../../ui/offline";
import type { Route } from "./+types/photos";

/** Keeps a photo of the visit, or takes one out of sight. */
export async function action({ params, request, context }: Route.ActionArgs) {
  return attempt(async () => {
    const form = await formBody(request);
    const visitId = checked(uuidSchema, params.visitId);
    const remove = form.get("remove");
    if (remove !== null) {
      const id = checked(uuidSchema, remove);
      await inFirm(context, async (scope, _, now) => {
        // Taken away already: this is the same word once more, and the visit may be closed by now.
        if ((await photoOf(scope, { visitId }, id))?.removedAt) return;
        await holdOpenVisit(scope, visitId);
        await removePhoto(scope, { visitId }, id, now);
      });
      return { saved: true as const };
    }
    const id = checked(uuidSchema, form.get("id"));
    const photo = await checkedPhoto(form.get("photo"));
    await inFirmOnce(context, id, ["photo", visitId, photo.bytes], async (scope, author) => {
      await holdOpenVisit(scope, visitId);
      await savePhoto(scope, author, { id, of: { visitId }, ...photo });
    });
    return { saved: true as const };
  });
}

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());
