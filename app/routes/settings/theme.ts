import { redirect } from "react-router";
import { attempt } from "../../context";
import { formBody, textOf } from "../../request";
import { THEME_COOKIE, THEMES } from "../../theme";
import type { Route } from "./+types/theme";

const YEAR_SECONDS = 31_536_000;

export { onlyPosted as loader } from "../../request";

/** Keeps how this browser is drawn: a cookie, and no row anywhere. */
export const action = ({ request }: Route.ActionArgs) =>
  attempt(async () => {
    const asked = textOf(await formBody(request), "theme");
    const theme = THEMES.find((known) => known === asked) ?? "system";
    return redirect("/settings", {
      headers: { "Set-Cookie": `${THEME_COOKIE}=${theme}; Path=/; SameSite=Lax; Max-Age=${YEAR_SECONDS}` },
    });
  });
