import { redirect } from "react-router";
import { signOut } from "#server/auth/sessions";
import { cookie, SESSION_COOKIE, servicesContext } from "../../context";
import type { Route } from "./+types/route";

export const loader = () => redirect("/");

export async function action({ request, context }: Route.ActionArgs) {
  const { db, now } = context.get(servicesContext);
  const token = cookie(request, SESSION_COOKIE);
  if (token) await signOut(db, token, now());
  return redirect("/sign-in", {
    headers: { "Set-Cookie": `${SESSION_COOKIE}=; Path=/; HttpOnly; SameSite=Lax; Max-Age=0` },
  });
}
