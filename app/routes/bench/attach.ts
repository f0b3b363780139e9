import { checked } from "#core/schemas";
import { attachObservation } from "#server/visits/attach";
import { attachSchema } from "#server/visits/schemas";
import { attempt, inFirmOnce, whoIs, workerOnly } from "../../context";
import { jsonBody } from "../../request";
import { offlineAware } from "../../ui/offline";
import type { Route } from "./+types/attach";

/** Puts a result of the quick bench to a basin: into its visit under way, or into a new one. */
export async function action({ request, context }: Route.ActionArgs) {
  const member = await whoIs(request, context);
  if (!member) throw new Response("Sign in first", { status: 401 });
  workerOnly(member);
  return attempt(async () => {
    const sent = checked(attachSchema, await jsonBody(request));
    const visitId = await inFirmOnce(context, sent.observation.id, ["attach", sent], (scope, author) =>
      attachObservation(scope, author, sent),
    );
    return { visitId };
  });
}

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());
