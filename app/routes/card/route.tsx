import { Form, useNavigation } from "react-router";
import { v7 as uuid } from "uuid";
import { InputFault, numberWithin, STRIP_LIMITS, STRIP_QUANTITIES, type StripQuantity } from "#core";
import { cardPage, keepEntry, takeBack } from "#server/db/cards";
import { cardToday } from "#server/visits/card-sheet";
import { attempt, byCard, notFound } from "../../context";
import { anyBody, fieldsOf } from "../../request";
import { Button } from "../../ui/button";
import { cardText } from "../../ui/card-text";
import { Field } from "../../ui/field";
import { dayText, plain } from "../../ui/format";
import { Refused, type SaveAnswer } from "../../ui/refused";
import { listText, quantityName, words } from "../../words";
import type { Route } from "./+types/route";
import { cardNow, openedByCard } from "./opened.server";

export const loader = ({ params, context }: Route.LoaderArgs) => cardNow(params.token, context);

/** Not to be kept on the way. */
export const headers = () => ({ "Cache-Control": "private, no-store" });

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: words.card.public.title({ basin: loaderData?.sheet.basin.name ?? "" }) },
  { name: "robots", content: "noindex, nofollow" },
];

/** What the people at the basin say: that a dose was given, that it was not after all, and what a strip reads. */
export const action = ({ params, request, context }: Route.ActionArgs) =>
  attempt(async () => {
    const card = await openedByCard(params.token, context);
    const { cardId, firmId } = card;
    const fields = fieldsOf(await anyBody(request));
    const text = (name: string) => String(fields[name] ?? "");
    await byCard(context, card, async (scope, now) => {
      const page = (await cardPage(scope, cardId)) ?? notFound();
      const { slots, today } = cardToday(page, now);
      const said = text("said");
      if (said === "strip") {
        const read = stripOf(text);
        await keepEntry(scope, { firmId, cardId, id: uuid(), now }, { kind: "strip", slot: today, read });
        return;
      }
      if (said !== "given" && said !== "not-given")
        throw new InputFault("unknown", "said", said, ["given", "not-given", "strip"]);
      const slot = slots.find(({ name }) => name === text("slot"));
      if (!slot)
        throw new InputFault(
          "unknown",
          "slot",
          text("slot"),
          slots.map(({ name }) => name),
        );
      if (said === "not-given") await takeBack(scope, cardId, { kind: "given", slot: slot.name }, now);
      else if (!slot.given)
        await keepEntry(
          scope,
          { firmId, cardId, id: uuid(), now },
          { kind: "given", slot: slot.name, read: {} },
        );
    });
    return { saved: text("said") };
  });

function stripOf(text: (name: string) => string): Partial<Record<StripQuantity, number>> {
  const read: Partial<Record<StripQuantity, number>> = {};
  for (const quantity of STRIP_QUANTITIES) {
    const typed = text(quantity).trim().replace(",", ".");
    if (typed === "") continue;
    const { low, high } = STRIP_LIMITS[quantity];
    const value = Number(typed);
    if (Number.isNaN(value)) throw new InputFault("not-a-number", quantity, typed);
    read[quantity] = numberWithin(quantity, value, low, high);
  }
  if (Object.keys(read).length === 0) throw new InputFault("missing", "freeChlorine", "");
  return read;
}

/** The card by the water, on the phone of whoever has its link. */
export default function CardByLink({ loaderData, params, actionData }: Route.ComponentProps) {
  const { sheet, slots, next, strip } = loaderData;
  const text = cardText(sheet);
  const said = words.card.public;
  const busy = useNavigation().state !== "idle";
  return (
    <main className="mx-auto grid w-full max-w-xl gap-4 p-4">
      <header>
        <p className="text-soft">{text.by}</p>
        <h1 className="text-2xl font-bold tracking-tight">{text.title}</h1>
      </header>
      <section className="sheet grid gap-2 p-4">
        <p className="text-3xl leading-tight font-bold">{text.amount}</p>
        <p className="text-xl">{text.name}</p>
        <p className="font-semibold">{text.when}</p>
        {text.lines.map((line) => (
          <p key={line}>{line}</p>
        ))}
      </section>
      <section className="sheet grid gap-3 p-4" aria-labelledby="told">
        <h2 id="told" className="text-xl font-semibold">
          {said.due}
        </h2>
        {slots.length === 0 ? <p className="text-soft">{said.dueNone}</p> : null}
        <ul className="grid gap-3">
          {slots.map((slot) => (
            <li key={slot.name} className="flex flex-wrap items-center justify-between gap-3">
              <span className="font-medium">
                {words.card.slot({
                  day: slot.day === loaderData.today ? said.today : dayText(slot.day),
                  half: slot.half,
                })}
              </span>
              <Form method="post" className="flex items-center gap-3">
                <input type="hidden" name="slot" value={slot.name} />
                <input type="hidden" name="said" value={slot.given ? "not-given" : "given"} />
                {slot.given ? <span role="status">{said.givenDone}</span> : null}
                <Button quiet={slot.given} busy={busy}>
                  {slot.given ? said.undo : said.given}
                </Button>
              </Form>
            </li>
          ))}
        </ul>
        <p className="text-soft">{next ? said.next({ day: dayText(next) }) : said.nextAfterVisit}</p>
      </section>
      <section className="sheet grid gap-3 p-4">
        <h2 className="text-xl font-semibold">{said.strip}</h2>
        <Form method="post" className="flex flex-wrap items-end gap-3">
          <input type="hidden" name="said" value="strip" />
          <Field label={said.stripChlorine}>
            <input name="freeChlorine" inputMode="decimal" autoComplete="off" className="w-28" />
          </Field>
          <Field label={said.stripPh}>
            <input name="ph" inputMode="decimal" autoComplete="off" className="w-28" />
          </Field>
          <Button quiet busy={busy}>
            {said.stripSave}
          </Button>
        </Form>
        <Refused answer={actionData as SaveAnswer} />
        {strip ? <p role="status">{said.stripSaved({ parts: stripText(strip) })}</p> : null}
      </section>
      <section className="sheet grid gap-2 p-4">
        {text.cautions.map((line) => (
          <p key={line} className="border-l-4 border-above pl-3">
            {line}
          </p>
        ))}
        <a href={`/c/${params.token}/card.pdf`} className="quiet-action justify-self-start">
          {words.card.pdf}
        </a>
      </section>
    </main>
  );
}

const stripText = (read: Partial<Record<StripQuantity, number>>): string =>
  listText(
    STRIP_QUANTITIES.flatMap((quantity) => {
      const value = read[quantity];
      return value === undefined ? [] : [`${quantityName(quantity)} ${plain(value, 1)}`];
    }),
  );
