import { useForm } from "react-hook-form";
import { CARD_DAYS, type CardContent, PRODUCTS, type ProductId } from "#core";
import { Button } from "../../ui/button";
import { doseText } from "../../ui/card-text";
import { Field } from "../../ui/field";
import { dateText, dayText, plain } from "../../ui/format";
import { typedOr } from "../../ui/number-text";
import { Refused } from "../../ui/refused";
import { SecretLink } from "../../ui/secret-link";
import { useClientId } from "../../ui/use-client-id";
import { useCommand } from "../../ui/use-command";
import { useFirm } from "../../ui/use-firm";
import { everyText, listText, productName, quantityName, words } from "../../words";
import type { Route } from "./+types/route";

type Kept = NonNullable<Route.ComponentProps["loaderData"]["card"]>;

interface Fields {
  product: ProductId;
  grams: string;
  everyDays: string;
}

/** The card that hangs by the water, what the people there told, and a new one. @param proposed by what would hold it */
export function CardByTheWater({
  card: { hangs, entries, laymen },
  basinId,
  proposed,
}: {
  card: Kept;
  basinId: string;
  proposed: CardContent | null;
}) {
  const { timeZone, units } = useFirm();
  const { dispatch, answer, token, busy } = useCommand<"make-card" | "withdraw-card">(
    `/basins/${basinId}/card`,
  );
  const id = useClientId(token ?? "");
  const said = words.card;
  const first = proposed ?? hangs;
  const { register, handleSubmit } = useForm<Fields>({
    values: {
      product: first?.product ?? laymen[0] ?? "calcium-hypochlorite",
      grams: first ? String(Math.round(first.grams)) : "",
      everyDays: String(first?.everyDays ?? 1),
    },
  });
  const make = ({ product, grams, everyDays }: Fields) => {
    const strength = first?.product === product ? first.strength : PRODUCTS[product].strength;
    void dispatch("make-card", {
      id: id([product, grams, everyDays]),
      product,
      strength,
      grams: typedOr(grams),
      everyDays: Number(everyDays),
    });
  };
  return (
    <section className="sheet mt-4 grid gap-3 p-4" aria-labelledby="card" id="card-section">
      <h2 id="card" className="text-xl font-semibold">
        {said.title}
      </h2>
      <p className="text-soft">{said.hint}</p>
      {hangs ? (
        <div className="grid gap-2">
          <p className="text-lg font-semibold">
            {said.dose({
              amount: doseText(hangs.product, hangs.grams, units),
              name: productName(hangs.product),
              often: everyText(hangs.everyDays),
            })}
          </p>
          <p className="text-sm text-soft">
            {said.made({ by: hangs.madeBy, day: dateText(hangs.madeAt, timeZone) })}
          </p>
          <h3 className="font-semibold">{said.said}</h3>
          {entries.length === 0 ? <p className="text-soft">{said.saidNone}</p> : null}
          <ul>
            {entries.map(({ kind, slot, at, read }) => (
              <li key={`${kind} ${slot}`}>
                {kind === "given"
                  ? said.saidGiven({ slot: slotText(slot) })
                  : said.saidStrip({
                      parts: listText(
                        Object.entries(read).map(
                          ([name, value]) => `${quantityName(name as never)} ${plain(value, 1)}`,
                        ),
                      ),
                    })}{" "}
                <span className="text-soft">{dateText(new Date(at), timeZone)}</span>
              </li>
            ))}
          </ul>
          <p className="flex flex-wrap gap-3">
            <a href={`/basins/${basinId}/card.pdf`} className="quiet-action">
              {said.pdf}
            </a>
            <Button type="button" quiet busy={busy} onClick={() => dispatch("withdraw-card", {})}>
              {said.withdraw}
            </Button>
          </p>
        </div>
      ) : (
        <p>{said.none}</p>
      )}
      {token ? <SecretLink path={`/c/${token}`} hint={said.linkHint} /> : null}
      {laymen.length === 0 ? (
        <p className="text-soft">{said.noLaymen}</p>
      ) : (
        <form onSubmit={handleSubmit(make)} className="flex flex-wrap items-end gap-3" noValidate>
          <Field label={said.product}>
            <select {...register("product")}>
              {laymen.map((product) => (
                <option key={product} value={product}>
                  {productName(product)}
                </option>
              ))}
            </select>
          </Field>
          <Field label={said.amount}>
            <input inputMode="decimal" autoComplete="off" className="w-28" {...register("grams")} />
          </Field>
          <Field label={said.everyDays}>
            <select {...register("everyDays")}>
              {CARD_DAYS.map((days) => (
                <option key={days} value={days}>
                  {everyText(days)}
                </option>
              ))}
            </select>
          </Field>
          <Button quiet={hangs !== null} busy={busy}>
            {hangs ? said.makeNew : said.make}
          </Button>
          {hangs ? <p className="w-full text-sm text-soft">{said.newHint}</p> : null}
        </form>
      )}
      <Refused answer={answer} />
    </section>
  );
}

function slotText(slot: string): string {
  const [day = "", half] = slot.split(" ");
  return words.card.slot({ day: dayText(day), half: half === "am" || half === "pm" ? half : null });
}
