import { useState } from "react";
import { Link } from "react-router";
import { isUuid } from "#server/commands/fields";
import { basinById } from "#server/db/basins";
import { defectsOf, type KeptDefect } from "#server/db/defects";
import { commandAction } from "../../commands";
import { inFirm, memberContext, notFound } from "../../context";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { dateText } from "../../ui/format";
import { fieldText, typedOr } from "../../ui/number-text";
import { offlineAware } from "../../ui/offline";
import { Refused } from "../../ui/refused";
import { useClientId } from "../../ui/use-client-id";
import { useCommand } from "../../ui/use-command";
import { useFirm, useMoney } from "../../ui/use-firm";
import { words } from "../../words";
import type { Route } from "./+types/repairs";

export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => {
    if (context.get(memberContext).role === "reader") return notFound();
    const basin = isUuid(params.basinId) ? await basinById(scope, params.basinId) : undefined;
    if (!basin) return notFound();
    return { id: basin.id, name: basin.name, defects: await defectsOf(scope, [basin.id]) };
  });

export const action = commandAction(["quote-defect", "drop-defect"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.repairs.title} · ${words.product}` }];

/** What is broken at a basin, what mending it is offered for, and how it ended. */
export default function RepairsPage({ loaderData: { id, name, defects } }: Route.ComponentProps) {
  const said = words.repairs;
  return (
    <div className="grid max-w-2xl gap-4">
      <h1 className="text-3xl font-bold tracking-tight">{said.titleOf({ basin: name })}</h1>
      <p className="text-soft">{said.hint}</p>
      {defects.length === 0 ? <p className="sheet p-4">{said.none}</p> : null}
      <ul className="grid gap-3">
        {defects.map((defect) => (
          <Defect key={defect.id} defect={defect} />
        ))}
      </ul>
      <Link to={`/basins/${id}`} className="quiet-action justify-self-start">
        {said.back}
      </Link>
    </div>
  );
}

function Defect({ defect }: { defect: KeptDefect }) {
  const { timeZone } = useFirm();
  const money = useMoney();
  const { title, state, quote, seenAt, mendedAt, why, visitId, photoId } = defect;
  const said = words.repairs;
  const day = (at: Date | null) => (at ? dateText(at, timeZone) : "");
  return (
    <li className="sheet grid gap-2 p-4">
      <h2 className="text-xl font-semibold">{title}</h2>
      {photoId ? (
        <a href={`/visits/${visitId}/photos/${photoId}`} target="_blank" rel="noreferrer">
          <img
            src={`/visits/${visitId}/photos/${photoId}`}
            alt={said.photoOf({ title })}
            className="h-28 rounded-sm border border-rule object-cover"
          />
        </a>
      ) : null}
      <p>
        <Link to={`/visits/${visitId}`} className="link">
          {said.seen({ day: day(seenAt) })}
        </Link>{" "}
        {state === "mended" ? said.mendedOn({ day: day(mendedAt) }) : null}
        {state === "dropped" ? said.droppedFor({ why }) : null}
      </p>
      {quote ? (
        <p className="font-medium">
          {quote.approvedBy
            ? said.approved({ amount: money(quote.amount), name: quote.approvedBy })
            : said.quoted({ amount: money(quote.amount) })}
          {quote.text ? <span className="block font-normal whitespace-pre-wrap">{quote.text}</span> : null}
        </p>
      ) : null}
      {state === "mended" || state === "dropped" ? null : <Change defect={defect} />}
    </li>
  );
}

function Change({ defect }: { defect: KeptDefect }) {
  const { dispatch, answer, busy } = useCommand<"quote-defect" | "drop-defect">();
  const [amount, setAmount] = useState(defect.quote ? fieldText(defect.quote.amount, 2) : "");
  const [text, setText] = useState(defect.quote?.text ?? "");
  const [why, setWhy] = useState("");
  const { currency } = useFirm();
  const id = useClientId(`${defect.id} ${defect.quote?.version ?? 0}`);
  const said = words.repairs;
  return (
    <details>
      <summary className="min-h-[44px] cursor-pointer content-center">
        {defect.quote ? said.requote : said.quote}
      </summary>
      <form
        className="grid gap-2"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          const given = { defectId: defect.id, amount: typedOr(amount) as number, text };
          void dispatch("quote-defect", { id: id(given), ...given });
        }}
      >
        {defect.quote?.approvedBy ? <p>{said.againAsks}</p> : null}
        <Field label={said.amount({ currency })}>
          <input inputMode="decimal" value={amount} onChange={(event) => setAmount(event.target.value)} />
        </Field>
        <Field label={said.text}>
          <textarea
            rows={3}
            maxLength={2000}
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        </Field>
        <Button busy={busy} className="justify-self-start">
          {said.offer}
        </Button>
      </form>
      <form
        className="mt-4 grid gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void dispatch("drop-defect", { defectId: defect.id, why, dropped: true });
        }}
      >
        <Field label={said.dropWhy}>
          <input value={why} maxLength={400} required onChange={(event) => setWhy(event.target.value)} />
        </Field>
        <Button quiet busy={busy} className="justify-self-start">
          {said.drop}
        </Button>
      </form>
      <Refused answer={answer} />
    </details>
  );
}
