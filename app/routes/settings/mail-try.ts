import { unseal } from "#server/auth/seal";
import { mailServerOf } from "#server/db/mail";
import { tryServer } from "#server/mail/smtp";
import { inFirm, memberContext, notFound, servicesContext } from "../../context";
import type { Route } from "./+types/mail-try";

export { onlyPosted as loader } from "../../request";

/** Signs in at the mail server that is saved, and says what it said. No row is held while somebody else's server thinks. */
export async function action({ context }: Route.ActionArgs) {
  if (context.get(memberContext).role !== "owner") throw new Response("Owners only", { status: 403 });
  const { secretsKey } = context.get(servicesContext);
  const server = (await inFirm(context, mailServerOf)) ?? notFound();
  const { password, ...at } = server;
  const why = await tryServer(at, password && secretsKey ? unseal(password, secretsKey) : null);
  return { works: why === null, why: why ?? "" };
}
