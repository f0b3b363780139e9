import { checkedPhoto } from "#server/visits/photos";
import { performCommand } from "../../commands";
import { attempt } from "../../context";
import { formBody } from "../../request";
import { offlineAware } from "../../ui/offline";
import type { Route } from "./+types/photos";

export { onlyPosted as loader } from "../../request";

/** Keeps a photo of the basin itself, or takes one out of sight. */
export async function action({ params, request, context }: Route.ActionArgs) {
  return attempt(async () => {
    const form = await formBody(request);
    const remove = form.get("remove");
    if (remove !== null) await performCommand(context, "remove-basin-photo", { ...params, id: remove });
    else {
      const photo = await checkedPhoto(form.get("photo"));
      await performCommand(context, "photograph-basin", { ...params, id: form.get("id"), ...photo });
    }
    return { saved: true as const };
  });
}

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());
