import { useState } from "react";
import { Link } from "react-router";
import { isUuid } from "#server/commands/fields";
import { SHARE_DAYS, sharesOf } from "#server/db/shares";
import { customerSheet } from "#server/visits/customer-sheet";
import { commandAction } from "../../commands";
import { inFirm, notFound } from "../../context";
import { inLanguage } from "../../language.server";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { dateText } from "../../ui/format";
import { offlineAware } from "../../ui/offline";
import { Paper, told } from "../../ui/paper";
import { Refused } from "../../ui/refused";
import { SecretLink } from "../../ui/secret-link";
import { useClientId } from "../../ui/use-client-id";
import { useCommand } from "../../ui/use-command";
import { useFirm } from "../../ui/use-firm";
import { words } from "../../words";
import type { Route } from "./+types/route";

/** The customer's sheet of a finished visit, and for members of the firm the links to it. */
export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, member, now) => {
    if (!isUuid(params.visitId)) return notFound();
    const sheet = await customerSheet(scope, params.visitId);
    if (!sheet) return notFound();
    const shares = member.role === "reader" ? null : await sharesOf(scope, params.visitId, now);
    // What is printed from here is the customer's to read, whatever the page around it speaks.
    const text = inLanguage(sheet.language, () => told(sheet));
    return { text, shares, days: [...SHARE_DAYS] };
  });

export const action = commandAction(["share-sheet", "withdraw-share"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${words.customer.title({ basin: loaderData?.text.title ?? "" })} · ${words.product}` },
];

export default function Customer({ params, loaderData: { text, shares, days } }: Route.ComponentProps) {
  const said = words.customer;
  return (
    <div className="grid gap-4">
      <p className="no-print mx-auto flex w-full max-w-3xl flex-wrap gap-3">
        <a href={`/visits/${params.visitId}/customer.pdf`} className="quiet-action">
          {said.pdf}
        </a>
        <button type="button" className="quiet-action" onClick={() => print()}>
          {said.print}
        </button>
        {shares ? (
          <Link to={`/visits/${params.visitId}`} className="link min-h-[44px] content-center">
            {words.visit.sheetOfFirm}
          </Link>
        ) : null}
      </p>
      <Paper text={text} />
      {shares ? <Share shares={shares} days={days} /> : null}
    </div>
  );
}

type Shares = NonNullable<Route.ComponentProps["loaderData"]["shares"]>;

function Share({ shares, days }: { shares: Shares; days: number[] }) {
  const { give, answer, token, busy } = useCommand<"share-sheet" | "withdraw-share">();
  const { timeZone } = useFirm();
  const [good, setGood] = useState(30);
  const id = useClientId(token ?? "");
  const said = words.customer;
  return (
    <section className="sheet no-print mx-auto grid w-full max-w-3xl gap-3 p-4">
      <h2 className="text-xl font-semibold">{said.shareTitle}</h2>
      <p className="text-soft">{said.shareHint}</p>
      <div className="flex flex-wrap items-end gap-3">
        <Field label={said.shareFor}>
          <select value={good} onChange={(event) => setGood(Number(event.target.value))}>
            {days.map((count) => (
              <option key={count} value={count}>
                {said.shareDays({ days: count })}
              </option>
            ))}
          </select>
        </Field>
        <Button type="button" busy={busy} onClick={() => give("share-sheet", { id: id(good), days: good })}>
          {said.share}
        </Button>
      </div>
      {token ? <SecretLink path={`/s/${token}`} hint={said.shareLinkHint} /> : null}
      <ul className="divide-y divide-rule">
        {shares.map((share) => (
          <li key={share.id} className="flex flex-wrap items-center justify-between gap-3 py-2">
            <span>
              {said.shared({
                by: share.by,
                made: dateText(share.madeAt, timeZone),
                until: dateText(share.expiresAt, timeZone),
              })}
            </span>
            <Button type="button" quiet onClick={() => give("withdraw-share", { id: share.id })}>
              {said.withdraw}
            </Button>
          </li>
        ))}
      </ul>
      <Refused answer={answer} />
    </section>
  );
}
