import { performCommand } from "../../commands";
import { attempt, whoIs } from "../../context";
import { jsonBody } from "../../request";
import { offlineAware } from "../../ui/offline";
import type { Route } from "./+types/attach";

export { onlyPosted as loader } from "../../request";

/** Puts a result of the quick bench to a basin: into its visit under way, or into a new one. */
export async function action({ request, context }: Route.ActionArgs) {
  const member = await whoIs(request, context);
  if (!member) throw new Response("Sign in first", { status: 401 });
  return attempt(async () => ({
    visitId: await performCommand(context, "attach-result", await jsonBody(request)),
  }));
}

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());
