import { useForm } from "react-hook-form";
import { Link } from "react-router";
import { dayIn, RANGE_SETS, SURFACES } from "#core";
import { firmOf } from "#server/db/firms";
import { rangeSetsOf } from "#server/db/range-sets";
import { commandAction } from "../../commands";
import { inFirm, notFound } from "../../context";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { dayText } from "../../ui/format";
import { offlineAware } from "../../ui/offline";
import { Refused } from "../../ui/refused";
import { useClientId } from "../../ui/use-client-id";
import { useCommand } from "../../ui/use-command";
import { quantityName, shipped, surfaceName, words } from "../../words";
import type { Route } from "./+types/editor";
import { fieldsOf, JUDGED, LIMITS, type SetFields, setFrom } from "./fields";

export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, member, now) => {
    const own = (await rangeSetsOf(scope)).find((one) => one.id === params.setId);
    const shipped = RANGE_SETS[params.setId];
    const set = own?.set ?? shipped;
    if (!set) return notFound();
    return {
      set,
      line: own?.line ?? null,
      version: own?.version ?? null,
      ours: own !== undefined && own.by !== null,
      owner: member.role === "owner",
      today: dayIn(now, (await firmOf(scope)).timeZone),
    };
  });

/** Saves a version of the firm's own set; a shipped one only as a copy under a line of its own. */
export const action = commandAction(["save-range-set"], {
  "save-range-set": ({ id }) => `/settings/ranges/${id}`,
});

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData ? shipped(loaderData.set.name) : words.ranges.title} · ${words.product}` },
];

export default function EditSet({ loaderData }: Route.ComponentProps) {
  const { set, ours, owner } = loaderData;
  const said = words.ranges;
  return (
    <>
      <h1 className="text-3xl font-bold tracking-tight">{shipped(set.name)}</h1>
      <p className="mb-4 text-soft">
        <Link to="/settings/ranges" className="link">
          {said.back}
        </Link>
        .{" "}
        {owner
          ? ours
            ? said.date({ date: dayText(set.date.slice(0, 10)) })
            : said.readOnly
          : said.ownersOnly}
      </p>
      <SetForm key={`${set.id}.${loaderData.version}.${ours}`} {...loaderData} />
    </>
  );
}

function SetForm({ set, line, version, ours, owner, today }: Route.ComponentProps["loaderData"]) {
  const { dispatch, answer, busy } = useCommand<"save-range-set">();
  const id = useClientId(version);
  const newLine = useClientId("line");
  const newSet = useClientId("set");
  const said = words.ranges;
  const fields = fieldsOf(set);
  const { register, handleSubmit } = useForm<SetFields>({
    defaultValues: ours || !owner ? fields : { ...fields, name: said.copyOf({ name: shipped(set.name) }) },
  });
  const send = (typed: SetFields) => {
    const base = ours ? set : { ...set, id: newSet() };
    void dispatch("save-range-set", {
      id: id(typed),
      line: ours && line ? line : newLine(),
      basedOn: ours ? version : null,
      set: setFrom(typed, base, today),
    });
  };
  return (
    <form onSubmit={handleSubmit(send)} className="grid gap-4" noValidate>
      <fieldset disabled={!owner} className="grid gap-4">
        <section className="sheet grid gap-3 p-4">
          <Field label={said.name}>
            <input autoComplete="off" {...register("name")} />
          </Field>
          <Field label={said.purpose}>
            <textarea rows={3} {...register("purpose")} />
          </Field>
        </section>
        <section className="sheet grid gap-4 p-4">
          {JUDGED.map((quantity) => (
            <LimitRow
              key={quantity}
              name={quantityName(quantity)}
              field={(limit) => register(`ranges.${quantity}.${limit}`)}
            >
              {quantity === "freeChlorine" ? (
                <label className="flex min-h-[44px] items-center gap-3 wide:col-span-6">
                  <input type="checkbox" className="h-6 min-h-0 w-6" {...register("heldByAcid")} />
                  {said.heldBy}
                </label>
              ) : null}
            </LimitRow>
          ))}
          {SURFACES.map((surface) => (
            <LimitRow
              key={surface}
              name={`${quantityName("calciumHardness")}, ${said.bySurface({ names: surfaceName(surface) })}`}
              field={(limit) => register(`surfaces.${surface}.${limit}`)}
            />
          ))}
          <div className="grid grid-cols-2 gap-2 wide:grid-cols-[11rem_repeat(5,1fr)]">
            <span className="col-span-2 self-end pb-3 font-medium wide:col-span-1">{said.saturation}</span>
            <Field label={words.judgement.low}>
              <input inputMode="decimal" {...register("saturation.low")} />
            </Field>
            <Field label={words.judgement.high}>
              <input inputMode="decimal" {...register("saturation.high")} />
            </Field>
          </div>
        </section>
        <Refused answer={answer} />
        <Button busy={busy} className="justify-self-start">
          {ours ? said.save : said.clone}
        </Button>
      </fieldset>
    </form>
  );
}

function LimitRow({
  name,
  field,
  children,
}: {
  name: string;
  field: (limit: (typeof LIMITS)[number]) => object;
  children?: React.ReactNode;
}) {
  return (
    <fieldset className="grid grid-cols-2 gap-2 wide:grid-cols-[11rem_repeat(5,1fr)]">
      <legend className="sr-only">{name}</legend>
      <span className="col-span-2 self-end pb-3 font-medium wide:col-span-1">{name}</span>
      {LIMITS.map((limit) => (
        <Field key={limit} label={words.judgement[limit]}>
          <input inputMode="decimal" autoComplete="off" {...field(limit)} />
        </Field>
      ))}
      {children}
    </fieldset>
  );
}
