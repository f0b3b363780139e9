import { useForm } from "react-hook-form";
import { Link, useFetcher } from "react-router";
import { InputFault, PRODUCT_IDS, QUANTITIES, type Quantity, type RangeOverrides } from "#core";
import { checked } from "#core/schemas";
import { changesBetween, note } from "#server/db/audit";
import { basinById, setJudgement } from "#server/db/basins";
import { rangeSetsOf } from "#server/db/range-sets";
import { judgementSchema, uuidSchema } from "#server/visits/schemas";
import { authorOf, inFirm, notFound, refuse } from "../../context";
import { jsonBody } from "../../request";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { typedNumber } from "../../ui/number-text";
import { offlineAware } from "../../ui/offline";
import { Refused, type SaveAnswer } from "../../ui/refused";
import { productName, quantityName, words } from "../../words";
import type { Route } from "./+types/judgement";

const isId = (text: string): boolean => !uuidSchema.validate(text).error;

export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => {
    const basin = isId(params.basinId) ? await basinById(scope, params.basinId) : undefined;
    if (!basin) return notFound();
    return { basin, sets: await rangeSetsOf(scope) };
  });

/** Which set a basin is judged by, its own limits, and what its plans leave out. */
export async function action({ params, request, context }: Route.ActionArgs) {
  try {
    const basinId = checked(uuidSchema, params.basinId);
    const sent = checked(judgementSchema, await jsonBody(request));
    await inFirm(context, async (scope, member, now) => {
      const basin = await basinById(scope, basinId);
      if (!basin) return notFound();
      const sets = await rangeSetsOf(scope);
      if (!sets.some((one) => one.id === sent.rangeSetId))
        throw new InputFault(
          "unknown",
          "rangeSetId",
          sent.rangeSetId,
          sets.map((one) => one.set.name),
        );
      await setJudgement(scope, basinId, sent);
      const named = (id: string) => sets.find((one) => one.id === id)?.set.name ?? id;
      const changes = changesBetween(
        {
          rangeSetId: named(basin.rangeSetId),
          rangeOverrides: basin.rangeOverrides ?? {},
          barred: basin.barred,
          mostReplaced: basin.mostReplaced,
        },
        { ...sent, rangeSetId: named(sent.rangeSetId) },
      );
      if (Object.keys(changes).length > 0)
        await note(scope, authorOf(member, now), "basin-changed", basinId, { name: basin.name, changes });
    });
    return { saved: true as const };
  } catch (fault) {
    if (fault instanceof InputFault) return refuse(fault);
    throw fault;
  }
}

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
  barred: string[];
  limits: Record<string, Record<(typeof LIMITS)[number], string>>;
}

export default function Judgement({ loaderData: { basin, sets } }: Route.ComponentProps) {
  const fetcher = useFetcher<SaveAnswer & { saved?: true }>();
  const said = words.judgement;
  const { register, handleSubmit } = useForm<Fields>({
    defaultValues: {
      rangeSetId: basin.rangeSetId,
      mostReplaced: String(Math.round(basin.mostReplaced * 100)),
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
    fetcher.submit(
      {
        rangeSetId: fields.rangeSetId,
        mostReplaced: typedNumber(fields.mostReplaced) / 100,
        barred: fields.barred || [],
        rangeOverrides: overridesFrom(fields.limits),
      } as unknown as Parameters<typeof fetcher.submit>[0],
      { method: "post", encType: "application/json" },
    );
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
                {set.name}
              </option>
            ))}
          </select>
        </Field>
        <Field label={said.mostReplaced}>
          <input inputMode="decimal" {...register("mostReplaced")} />
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
      <Refused answer={fetcher.data} />
      {fetcher.data?.saved ? <p role="status">{said.saved}</p> : null}
      <Button busy={fetcher.state !== "idle"} className="justify-self-start">
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
