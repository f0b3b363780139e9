import { redirect } from "react-router";
import { throwDemoAway } from "#server/demo/throw-away";
import { inFirm, notFound, ownerOnly, servicesContext, sessionCookie } from "../../context";
import type { Route } from "./+types/throw-demo-away";

export { onlyPosted as loader } from "../../request";

/** Takes the demo firm away, whole; whoever does it is signed out with everybody else of it. */
export async function action({ context }: Route.ActionArgs) {
  ownerOnly(context);
  if (!(await inFirm(context, (scope, _, now) => throwDemoAway(scope, now)))) return notFound();
  const { secureCookies } = context.get(servicesContext);
  return redirect("/sign-in", { headers: { "Set-Cookie": sessionCookie(null, secureCookies) } });
}
