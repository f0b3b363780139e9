import { redirect } from "react-router";
import { signOut } from "#server/db/sessions";
import { atGate, SESSION_COOKIE, servicesContext, sessionCookie } from "../../context";
import { signOutHere } from "../../device/seam";
import { cookie } from "../../request";
import type { Route } from "./+types/route";

export const loader = () => redirect("/");

export const clientAction = signOutHere;

export async function action({ request, context }: Route.ActionArgs) {
  const token = cookie(request, SESSION_COOKIE);
  if (token) await atGate(context, (db, now) => signOut(db, token, now));
  const { secureCookies } = context.get(servicesContext);
  return redirect("/sign-in", { headers: { "Set-Cookie": sessionCookie(null, secureCookies) } });
}
