import { Form } from "react-router";
import { InputFault } from "#core";
import { approveQuote } from "#server/db/defects";
import { attempt, bySheetLink, notFound } from "../../context";
import { goOnIn } from "../../language.server";
import { anyBody, fieldsOf } from "../../request";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { Paper, told } from "../../ui/paper";
import { Refused } from "../../ui/refused";
import { words } from "../../words";
import type { Route } from "./+types/shared";
import { sharedSheet } from "./shared.server";

/** The whole page is the customer's, and in their language where the firm knows it. */
export async function loader({ params, context }: Route.LoaderArgs) {
  const sheet = await sharedSheet(params.token, context);
  goOnIn(sheet.language);
  return { text: told(sheet) };
}

const LONGEST_NAME = 120;

/** Whoever owns the water approves an offer that stands on the sheet, by name. */
export const action = ({ params, request, context }: Route.ActionArgs) =>
  attempt(async () => {
    const fields = fieldsOf(await anyBody(request));
    const name = String(fields.name ?? "").trim();
    await bySheetLink(context, params.token, async (scope, visitId, now) => {
      const visit = await scope
        .selectFrom("visit")
        .innerJoin("basin", "basin.id", "visit.basin_id")
        .innerJoin("site", "site.id", "basin.site_id")
        .select(["visit.basin_id", "site.language"])
        .where("visit.id", "=", visitId)
        .executeTakeFirst();
      if (!visit) return notFound();
      goOnIn(visit.language);
      if (name === "") throw new InputFault("missing", "approvedBy", name);
      if (name.length > LONGEST_NAME)
        throw new InputFault("too-long", "approvedBy", name.length, LONGEST_NAME);
      await approveQuote(scope, {
        basinId: visit.basin_id,
        quoteId: String(fields.quoteId ?? ""),
        name,
        now,
      });
    });
    return { saved: true as const };
  });

/** Not to be kept on the way. */
export const headers = () => ({ "Cache-Control": "private, no-store" });

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: words.customer.title({ basin: loaderData?.text.title ?? "" }) },
  { name: "robots", content: "noindex, nofollow" },
];

/** One visit's sheet, for whoever has its link. */
export default function Shared({ params, loaderData: { text }, actionData }: Route.ComponentProps) {
  const said = words.repairs;
  return (
    <main className="grid gap-4 p-4">
      <p className="no-print mx-auto w-full max-w-3xl">
        <a href={`/s/${params.token}/sheet.pdf`} className="quiet-action">
          {words.customer.pdf}
        </a>
      </p>
      {actionData && "fault" in actionData ? <Refused answer={actionData} /> : null}
      <Paper
        text={text}
        photoAt={(id) => `/s/${params.token}/photos/${id}`}
        approve={(quoteId) => (
          <Form method="post" className="no-print mt-1 flex flex-wrap items-end gap-2">
            <input type="hidden" name="quoteId" value={quoteId} />
            <Field label={said.yourName}>
              <input name="name" required maxLength={LONGEST_NAME} autoComplete="name" />
            </Field>
            <Button>{said.approve}</Button>
          </Form>
        )}
      />
    </main>
  );
}
