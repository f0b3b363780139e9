import { InputFault } from "#core";
import { checked } from "#core/schemas";
import { asFirm } from "#server/db/connection";
import { attachObservation } from "#server/visits/attach";
import { attachSchema } from "#server/visits/schemas";
import { refuse, servicesContext, whoIs } from "../../context";
import type { Route } from "./+types/attach";

/** Puts a result of the quick bench to a basin: into its visit under way, or into a new one. */
export async function action({ request, context }: Route.ActionArgs) {
  const member = await whoIs(request, context);
  if (!member) throw new Response("Sign in first", { status: 401 });
  const { db, now } = context.get(servicesContext);
  try {
    const sent = checked(attachSchema, await request.json().catch(() => null));
    const author = { firmId: member.firmId, memberId: member.memberId, now: now() };
    return { visitId: await asFirm(db, member.firmId, (scope) => attachObservation(scope, author, sent)) };
  } catch (fault) {
    if (fault instanceof InputFault) return refuse(fault);
    throw fault;
  }
}
