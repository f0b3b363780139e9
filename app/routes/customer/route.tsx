import { useState } from "react";
import { Link } from "react-router";
import { isUuid } from "#server/commands/fields";
import { reading } from "#server/db/batch";
import type { FirmScope } from "#server/db/connection";
import { isMailWanted, mailOfVisit } from "#server/db/mail";
import { sheetPhotosOf } from "#server/db/photos";
import { SHARE_DAYS, sharesOf } from "#server/db/shares";
import { customerSheet } from "#server/visits/customer-sheet";
import { commandAction } from "../../commands";
import { inFirm, notFound } from "../../context";
import { inLanguage } from "../../language.server";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { dateText } from "../../ui/format";
import { LetterState } from "../../ui/letter-state";
import { offlineAware } from "../../ui/offline";
import { Paper, told } from "../../ui/paper";
import { Refused } from "../../ui/refused";
import { SecretLink } from "../../ui/secret-link";
import { useClientId } from "../../ui/use-client-id";
import { useCommand } from "../../ui/use-command";
import { useFirm } from "../../ui/use-firm";
import { words } from "../../words";
import type { Route } from "./+types/route";

/** The sheet, and what members of the firm see beside it: the letter, and photos that may be chosen. */
const sheetAndMore = (scope: FirmScope, visitId: string) =>
  reading(scope, async (reads) => {
    const [sheet, letter, isWanted, photos] = await Promise.all([
      customerSheet(reads, visitId),
      mailOfVisit(reads, visitId),
      isMailWanted(reads, visitId),
      sheetPhotosOf(reads, visitId),
    ]);
    return { sheet, mail: { letter, isWanted }, photos };
  });

/** The customer's sheet of a finished visit, and for members of the firm the links to it. */
export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, member, now) => {
    if (!isUuid(params.visitId)) return notFound();
    const isOurs = member.role !== "reader";
    const { sheet, mail, photos } = isOurs
      ? await sheetAndMore(scope, params.visitId)
      : { sheet: await customerSheet(scope, params.visitId), mail: null, photos: [] };
    if (!sheet) return notFound();
    const shares = isOurs ? await sharesOf(scope, params.visitId, now) : null;
    // What is printed from here is the customer's to read, whatever the page around it speaks.
    const text = inLanguage(sheet.language, () => told(sheet));
    return { text, shares, mail, photos, days: [...SHARE_DAYS] };
  });

export const action = commandAction([
  "share-sheet",
  "withdraw-share",
  "show-photo",
  "mail-sheet",
  "mail-again",
]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${words.customer.title({ basin: loaderData?.text.title ?? "" })} · ${words.product}` },
];

export default function Customer({
  params,
  loaderData: { text, shares, mail, photos, days },
}: Route.ComponentProps) {
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
      <Paper text={text} photoAt={(id) => `/visits/${params.visitId}/photos/${id}`} />
      {shares && photos.length > 0 ? <Choose visitId={params.visitId} photos={photos} /> : null}
      {mail ? <Mailed mail={mail} /> : null}
      {shares ? <Share shares={shares} days={days} what={{ firm: text.firm, basin: text.title }} /> : null}
    </div>
  );
}

type MailHere = Route.ComponentProps["loaderData"]["mail"];
type Shares = NonNullable<Route.ComponentProps["loaderData"]["shares"]>;

/** Photos of the visit, each on the customer's sheet or not. */
function Choose({ visitId, photos }: { visitId: string; photos: { id: string; isShown: boolean }[] }) {
  const { dispatch, answer, busy } = useCommand<"show-photo">();
  const said = words.customer;
  return (
    <section className="sheet no-print mx-auto grid w-full max-w-3xl gap-3 p-4">
      <h2 className="text-xl font-semibold">{said.choose}</h2>
      <ul className="grid grid-cols-2 gap-3 wide:grid-cols-4">
        {photos.map(({ id, isShown }) => (
          <li key={id} className="grid gap-1">
            <img
              src={`/visits/${visitId}/photos/${id}`}
              alt={words.look.photoOf}
              className="aspect-square w-full rounded-sm border border-rule object-cover"
            />
            <Button
              type="button"
              quiet={!isShown}
              busy={busy}
              aria-pressed={isShown}
              onClick={() => dispatch("show-photo", { photoId: id, isShown: !isShown })}
            >
              {isShown ? said.onSheet : said.putOnSheet}
            </Button>
          </li>
        ))}
      </ul>
      <Refused answer={answer} />
    </section>
  );
}

/** How the letter of this visit went, or that one can be sent. */
function Mailed({ mail: { letter, isWanted } }: { mail: NonNullable<MailHere> }) {
  const { dispatch, answer, busy } = useCommand<"mail-sheet" | "mail-again">();
  const { timeZone } = useFirm();
  const said = words.mail;
  if (!letter && !isWanted) return null;
  return (
    <section className="sheet no-print mx-auto grid w-full max-w-3xl justify-items-start gap-2 p-4">
      <h2 className="text-xl font-semibold">{said.title}</h2>
      {letter ? (
        <LetterState
          letter={letter}
          timeZone={timeZone}
          again={() => dispatch("mail-again", { id: letter.id })}
        />
      ) : (
        <Button type="button" quiet busy={busy} onClick={() => dispatch("mail-sheet", {})}>
          {said.sheet.send}
        </Button>
      )}
      <Refused answer={answer} />
    </section>
  );
}

function Share({
  shares,
  days,
  what,
}: {
  shares: Shares;
  days: number[];
  what: { firm: string; basin: string };
}) {
  const { dispatch, answer, token, busy } = useCommand<"share-sheet" | "withdraw-share">();
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
        <Button
          type="button"
          busy={busy}
          onClick={() => dispatch("share-sheet", { id: id(good), days: good })}
        >
          {said.share}
        </Button>
      </div>
      {token ? (
        <SecretLink path={`/s/${token}`} hint={said.shareLinkHint} share={words.mail.sheet.shareText(what)} />
      ) : null}
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
            <Button type="button" quiet onClick={() => dispatch("withdraw-share", { id: share.id })}>
              {said.withdraw}
            </Button>
          </li>
        ))}
      </ul>
      <Refused answer={answer} />
    </section>
  );
}
