import { checked } from "#core/schemas";
import { checkedPhoto } from "#server/visits/photos";
import { uuidSchema } from "#server/visits/schemas";
import { attempt } from "../../context";
import { formBody } from "../../request";
import { offlineAware } from "../../ui/offline";
import { carriedOut } from "../../visit/action.server";
import type { Route } from "./+types/photos";

/** Keeps a photo of the visit, or takes one out of sight. */
export const action = ({ params, request, context }: Route.ActionArgs) =>
  attempt(async () => {
    const form = await formBody(request);
    const { visitId } = params;
    const remove = form.get("remove");
    if (remove !== null) {
      const photoId = checked(uuidSchema, remove);
      await carriedOut(context, { visitId, name: "hide-photo", given: { photoId } });
      return { saved: true as const };
    }
    const id = checked(uuidSchema, form.get("id"));
    const photo = { id, ...(await checkedPhoto(form.get("photo"))) };
    await carriedOut(context, { visitId, name: "photograph", id, given: { photoId: id }, photo });
    return { saved: true as const };
  });

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());
