import { useForm } from "react-hook-form";
import { Link } from "react-router";
import { PRODUCT_IDS, type ProductId, QUANTITIES, type Quantity, type RangeOverrides } from "#core";
import { isUuid } from "#server/commands/fields";
import { basinById } from "#server/db/basins";
import { rangeSetsOf } from "#server/db/range-sets";
import { commandAction } from "../../commands";
import { inFirm, notFound } from "../../context";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { typedNumber, typedOrNull } from "../../ui/number-text";
import { offlineAware } from "../../ui/offline";
import { Refused } from "../../ui/refused";
import { useCommand } from "../../ui/use-command";
import { productName, quantityName, shipped, words } from "../../words";
import type { Route } from "./+types/judgement";

export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => {
    const basin = isUuid(params.basinId) ? await basinById(scope, params.basinId) : undefined;
    if (!basin) return notFound();
    return { basin, sets: await rangeSetsOf(scope) };
  });

/** Which set a basin is judged by, its own limits, and what its plans leave out. */
export const action = commandAction(["set-limits"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.judgement.title} · ${words.product}` }];

const JUDGED: readonly Quantity[] = [
  "freeChlorine",
  "combinedChlorine",
  "ph",
  "totalAlkalinity",
  "calciumHardness",
  "cyanuricAcid",
];
const LIMITS = ["low", "high", "aim", "closeBelow", "closeAbove"] as const;

interface Fields {
  rangeSetId: string;
  mostReplaced: string;
  callMinutes: string;
  barred: ProductId[];
  limits: Record<string, Record<(typeof LIMITS)[number], string>>;
}

export default function Judgement({ loaderData: { basin, sets } }: Route.ComponentProps) {
  const { dispatch, answer, saved, busy } = useCommand<"set-limits">();
  const said = words.judgement;
  const { register, handleSubmit } = useForm<Fields>({
    defaultValues: {
      rangeSetId: basin.rangeSetId,
      mostReplaced: String(Math.round(basin.mostReplaced * 100)),
      callMinutes: basin.callMinutes?.toString() ?? "",
      barred: basin.barred,
      limits: Object.fromEntries(
        JUDGED.map((quantity) => [
          quantity,
          Object.fromEntries(LIMITS.map((limit) => [limit, text(basin.rangeOverrides?.[quantity]?.[limit])])),
        ]),
      ) as Fields["limits"],
    },
  });
  const send = (fields: Fields) =>
    dispatch("set-limits", {
      rangeSetId: fields.rangeSetId,
      mostReplaced: typedNumber(fields.mostReplaced) / 100,
      callMinutes: typedOrNull(fields.callMinutes),
      barred: fields.barred || [],
      rangeOverrides: overridesFrom(fields.limits),
    });
  return (
    <form onSubmit={handleSubmit(send)} className="grid gap-4" noValidate>
      <header>
        <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
        <p className="text-soft">
          <Link to={`/basins/${basin.id}`} className="link">
            {basin.name}
          </Link>
        </p>
      </header>
      <section className="sheet grid gap-4 p-4 wide:grid-cols-2">
        <Field label={said.set}>
          <select {...register("rangeSetId")}>
            {sets.map(({ id, set }) => (
              <option key={id} value={id}>
                {shipped(set.name)}
              </option>
            ))}
          </select>
        </Field>
        <Field label={said.mostReplaced}>
          <input inputMode="decimal" {...register("mostReplaced")} />
        </Field>
        <Field label={said.callMinutes}>
          <input inputMode="numeric" {...register("callMinutes")} />
        </Field>
        <Link to={`/basins/${basin.id}/compare`} className="link self-center">
          {words.judge.compare}
        </Link>
      </section>
      <section className="sheet grid gap-3 p-4">
        <h2 className="text-xl font-semibold">{said.overrides}</h2>
        <p className="text-soft">{said.overridesHint}</p>
        {JUDGED.map((quantity) => (
          <fieldset key={quantity} className="grid grid-cols-2 gap-2 wide:grid-cols-[11rem_repeat(5,1fr)]">
            <legend className="sr-only">{quantityName(quantity)}</legend>
            <span className="col-span-2 self-end pb-3 font-medium wide:col-span-1">
              {quantityName(quantity)}{" "}
              <span className="text-soft">{QUANTITIES[quantity].unit === "mg/L" ? "ppm" : ""}</span>
            </span>
            {LIMITS.map((limit) => (
              <Field key={limit} label={said[limit]}>
                <input inputMode="decimal" autoComplete="off" {...register(`limits.${quantity}.${limit}`)} />
              </Field>
            ))}
          </fieldset>
        ))}
      </section>
      <fieldset className="sheet grid gap-2 p-4">
        <legend className="sr-only">{said.barred}</legend>
        <h2 className="text-xl font-semibold">{said.barred}</h2>
        <p className="text-soft">{said.barredHint}</p>
        <div className="grid gap-x-4 wide:grid-cols-3">
          {PRODUCT_IDS.map((id) => (
            <label key={id} className="flex min-h-[44px] items-center gap-3">
              <input type="checkbox" className="h-6 min-h-0 w-6" value={id} {...register("barred")} />
              {productName(id)}
            </label>
          ))}
        </div>
      </fieldset>
      <Refused answer={answer} />
      {saved ? <p role="status">{said.saved}</p> : null}
      <Button busy={busy} className="justify-self-start">
        {said.save}
      </Button>
    </form>
  );
}

const text = (value: number | undefined): string => (value === undefined ? "" : String(value));

/** Only what was filled in; a limit that is no number goes along, so that the server names it. */
function overridesFrom(limits: Fields["limits"]): RangeOverrides {
  const overrides: Record<string, Record<string, number>> = {};
  for (const [quantity, typed] of Object.entries(limits)) {
    const given = LIMITS.filter((limit) => typed[limit].trim() !== "");
    if (given.length > 0)
      overrides[quantity] = Object.fromEntries(given.map((limit) => [limit, typedNumber(typed[limit])]));
  }
  return overrides as RangeOverrides;
}
