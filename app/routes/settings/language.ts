import { redirect } from "react-router";
import { InputFault } from "#core";
import { chooseLanguage } from "#server/db/sessions";
import { atGate, attempt, memberContext } from "../../context";
import { isLanguage, LANGUAGE_COOKIE, languageNames } from "../../language.server";
import { formBody, textOf } from "../../request";
import type { Route } from "./+types/language";

const YEAR_SECONDS = 31_536_000;

export { onlyPosted as loader } from "../../request";

/** Sets what somebody reads: theirs on every device, and this browser's for pages without a sign-in. */
export const action = ({ request, context }: Route.ActionArgs) =>
  attempt(async () => {
    const asked = textOf(await formBody(request), "language");
    if (asked !== "" && !isLanguage(asked))
      throw new InputFault(
        "unknown",
        "language",
        asked,
        languageNames().map(({ name }) => name),
      );
    const member = context.get(memberContext);
    await atGate(context, (db) => chooseLanguage(db, member, asked || null));
    const kept = asked ? `Max-Age=${YEAR_SECONDS}` : "Max-Age=0";
    return redirect("/settings", {
      headers: { "Set-Cookie": `${LANGUAGE_COOKIE}=${asked}; Path=/; SameSite=Lax; ${kept}` },
    });
  });
