import { checked } from "#core/schemas";
import { basinById } from "#server/db/basins";
import { removePhoto, savePhoto } from "#server/db/photos";
import { checkedPhoto } from "#server/visits/photos";
import { uuidSchema } from "#server/visits/schemas";
import { attempt, authorOf, inFirm, notFound } from "../../context";
import type { Route } from "./+types/photos";

/** Keeps a photo of the basin itself, or takes one out of sight. */
export async function action({ params, request, context }: Route.ActionArgs) {
  const form = await request.formData();
  return attempt(async () => {
    const basinId = checked(uuidSchema, params.basinId);
    const remove = form.get("remove");
    const photo = remove === null ? await checkedPhoto(form.get("photo")) : null;
    const id = checked(uuidSchema, remove ?? form.get("id"));
    await inFirm(context, async (scope, member, now) => {
      if (!(await basinById(scope, basinId))) return notFound();
      if (photo) await savePhoto(scope, authorOf(member, now), { id, of: { basinId }, ...photo });
      else await removePhoto(scope, { basinId }, id, now);
    });
    return { saved: true as const };
  });
}
