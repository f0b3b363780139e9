import type { ActionFunctionArgs, RouterContextProvider } from "react-router";
import { InputFault } from "#core";
import type { SignedIn } from "#server/auth/sessions";
import type { Author } from "#server/author";
import type { FirmScope } from "#server/db/connection";
import { attempt, authorOf, inFirm } from "./context";
import { jsonFields } from "./request";

/** What a deed is done with: the firm's rows, who does it, and what was sent for it. */
export interface Errand {
  scope: FirmScope;
  author: Author;
  member: SignedIn;
  sent: Record<string, unknown>;
}

/** A secret that is shown once is all that a deed answers with. */
type Deeds = Record<string, (errand: Errand) => Promise<{ token: string }> | Promise<void>>;

/**
 * Does what a body of JSON asks for under `what`; the rest of the body is for the deed to check.
 * @example action = ({ request, context }) => doDeed(request, context, { rename: ({ scope, sent }) => … })
 */
export function doDeed(
  request: ActionFunctionArgs["request"],
  context: Readonly<RouterContextProvider>,
  deeds: Deeds,
) {
  return attempt(async () => {
    const { what, ...sent } = await jsonFields(request);
    const deed = typeof what === "string" && Object.hasOwn(deeds, what) ? deeds[what] : undefined;
    if (!deed) throw new InputFault("unknown", "what", what, Object.keys(deeds));
    const token = await inFirm(context, async (scope, member, now) => {
      const told = await deed({ scope, author: authorOf(member, now), member, sent });
      return told ? told.token : undefined;
    });
    return { saved: true as const, token };
  });
}
