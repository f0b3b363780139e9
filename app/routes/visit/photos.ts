import { checked, givenAtSchema } from "#core/schemas";
import { uuidSchema } from "#server/commands/fields";
import { checkedPhoto } from "#server/visits/photos";
import { attempt, memberContext } from "../../context";
import { carriedOut } from "../../device/action.server";
import { photoOnDevice } from "../../device/seam";
import { othersWork } from "../../device/whose";
import { formBody, jsonOf, textOf } from "../../request";
import type { Route } from "./+types/photos";

export { onlyPosted as loader } from "../../request";

/** Keeps a photo of the visit, or takes one out of sight. */
export const action = ({ params, request, context }: Route.ActionArgs) =>
  attempt(async () => {
    const form = await formBody(request);
    const { visitId } = params;
    const others = othersWork(form.get("member"), context.get(memberContext).memberId);
    if (others) throw others;
    const remove = form.get("remove");
    if (remove !== null) {
      const photoId = checked(uuidSchema, remove);
      await carriedOut(context, { visitId, name: "hide-photo", given: { photoId } });
      return { saved: true as const };
    }
    const id = checked(uuidSchema, form.get("id"));
    const photo = { id, ...(await checkedPhoto(form.get("photo"))) };
    const made = madeIn(form);
    await carriedOut(context, { visitId, name: "photograph", id, given: { photoId: id }, photo, made });
    return { saved: true as const };
  });

/** Where a photo waited on a device, when and where that was. */
function madeIn(form: FormData) {
  if (!form.has("made")) return undefined;
  const made = checked(givenAtSchema, jsonOf(textOf(form, "made"), "made"));
  const at = new Date(made.at);
  const sentAt = Date.parse(textOf(form, "sentAt"));
  return { ...made, at, late: Number.isNaN(sentAt) ? 0 : sentAt - at.getTime() };
}

export const clientAction = photoOnDevice;
