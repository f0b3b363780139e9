import { checked } from "#core/schemas";
import { basinById } from "#server/db/basins";
import { removePhoto, savePhoto } from "#server/db/photos";
import { checkedPhoto } from "#server/visits/photos";
import { uuidSchema } from "#server/visits/schemas";
import { attempt, inFirm, inFirmOnce, notFound } from "../../context";
import { formBody } from "../../request";
import { offlineAware } from "../../ui/offline";
import type { Route } from "./+types/photos";

/** Keeps a photo of the basin itself, or takes one out of sight. */
export async function action({ params, request, context }: Route.ActionArgs) {
  return attempt(async () => {
    const form = await formBody(request);
    const basinId = checked(uuidSchema, params.basinId);
    const remove = form.get("remove");
    if (remove !== null) {
      const id = checked(uuidSchema, remove);
      await inFirm(context, (scope, _, now) => removePhoto(scope, { basinId }, id, now));
      return { saved: true as const };
    }
    const id = checked(uuidSchema, form.get("id"));
    const photo = await checkedPhoto(form.get("photo"));
    await inFirmOnce(context, id, ["photo", basinId, photo.bytes], async (scope, author) => {
      if (!(await basinById(scope, basinId))) return notFound();
      await savePhoto(scope, author, { id, of: { basinId }, ...photo });
    });
    return { saved: true as const };
  });
}

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());
