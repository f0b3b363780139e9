import type { RouterContextProvider } from "react-router";
import { note } from "#server/db/audit";
import { accountsIn, isMonth, type MonthAccounts } from "#server/exchange/accounts";
import { authorOf, inFirm, notFound, ownerOnly } from "../../context";

/** A month's accounts as a file, by its owners only; that it went out is noted. */
export async function monthFile(
  { request, context }: { request: Request; context: Readonly<RouterContextProvider> },
  { kind, type, text }: { kind: "csv" | "json"; type: string; text: (accounts: MonthAccounts) => string },
): Promise<Response> {
  ownerOnly(context);
  const month = new URL(request.url).searchParams.get("month");
  if (!isMonth(month)) return notFound();
  const accounts = await inFirm(context, async (scope, member, now) => {
    await note(scope, authorOf(member, now), "book-exported", null, { name: `${month}.${kind}` });
    return accountsIn(scope, month);
  });
  return new Response(text(accounts), {
    headers: {
      "Content-Type": type,
      "Content-Disposition": `attachment; filename="${month}.${kind}"`,
    },
  });
}
