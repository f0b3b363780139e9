import { useState } from "react";
import { useForm } from "react-hook-form";
import { Link } from "react-router";
import { cadenceWith, SANITISERS, SURFACES } from "#core";
import { isUuid } from "#server/commands/fields";
import { auditOf } from "#server/db/audit";
import { type BasinFacts, basinById, factsOf } from "#server/db/basins";
import { firmOf, membersOf } from "#server/db/firms";
import { kitsOf } from "#server/db/kits";
import { photosOfBasin } from "#server/db/photos";
import { commandAction } from "../../commands";
import { inFirm, notFound } from "../../context";
import { languageNames } from "../../language.server";
import { Button } from "../../ui/button";
import { CadenceFields, cadenceFrom, cadenceText } from "../../ui/cadence-fields";
import { Field } from "../../ui/field";
import { dateTimeText } from "../../ui/format";
import { typedOrNull } from "../../ui/number-text";
import { offlineAware } from "../../ui/offline";
import { NamedOptions, Options } from "../../ui/options";
import { Photos } from "../../ui/photos-field";
import { Refused } from "../../ui/refused";
import { useCommand } from "../../ui/use-command";
import { useFirm } from "../../ui/use-firm";
import { auditText, KINDS, shipped, surfaceName, weekdayShort, words } from "../../words";
import type { Route } from "./+types/facts";

export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => {
    const basin = isUuid(params.basinId) ? await basinById(scope, params.basinId) : undefined;
    if (!basin) return notFound();
    const kits = (await kitsOf(scope)).map(({ id, kit }) => ({ id, name: shipped(kit.name) }));
    return {
      basin,
      facts: factsOf(basin),
      // A basin may still stand on an older version of its kit.
      kits: kits.some((kit) => kit.id === basin.kitId)
        ? kits
        : [{ id: basin.kitId, name: words.facts.kit }, ...kits],
      members: (await membersOf(scope)).filter((member) => member.role !== "reader"),
      usual: cadenceWith((await firmOf(scope)).cadence),
      photos: await photosOfBasin(scope, basin.id),
      languages: languageNames(),
      history: await auditOf(scope, basin.id),
    };
  });

/** What changed, from what to what, is kept beside the facts. */
export const action = commandAction(["change-basin"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.facts.title} · ${words.product}` }];

const FEEDERS = ["none", "tablets", "liquid", "salt-cell"] as const;
const COVERS = ["none", "bubble", "slats", "foam"] as const;

type Fields = Omit<
  BasinFacts,
  | "callDays"
  | "season"
  | "equipment"
  | "cadence"
  | "fillAlkalinity"
  | "fillHardness"
  | "everyWeeks"
  | "indoors"
  | "isPublic"
> & {
  indoors: "true" | "false";
  callDays: string[];
  everyWeeks: string;
  inSeason: boolean;
  seasonFrom: string;
  seasonTo: string;
  pumpHours: string;
  bathers: string;
  feeder: (typeof FEEDERS)[number] | "";
  cellGrams: string;
  cellSaltLow: string;
  cellSaltHigh: string;
  isPublic: string;
  cover: (typeof COVERS)[number] | "";
  fillAlkalinity: string;
  fillHardness: string;
};

const text = (value: number | null): string => (value === null ? "" : String(value));

export default function FactsPage({ loaderData }: Route.ComponentProps) {
  const { basin, facts, kits, members, usual, photos, languages } = loaderData;
  const { dispatch, answer, saved, busy } = useCommand<"change-basin">();
  const [cadence, setCadence] = useState(() => cadenceText(facts.cadence));
  const said = words.facts;
  const { register, handleSubmit, watch } = useForm<Fields>({
    defaultValues: {
      name: facts.name,
      kind: facts.kind,
      surface: facts.surface,
      indoors: facts.indoors ? "true" : "false",
      sanitiser: facts.sanitiser,
      kitId: facts.kitId,
      callDays: facts.callDays.map(String),
      everyWeeks: String(facts.everyWeeks),
      weeksFrom: facts.weeksFrom,
      inSeason: facts.season !== null,
      seasonFrom: facts.season?.from ?? "05-01",
      seasonTo: facts.season?.to ?? "09-30",
      callerId: facts.callerId ?? "",
      pumpHours: text(facts.equipment.pumpHours),
      bathers: text(facts.equipment.bathers),
      feeder: facts.equipment.feeder ?? "",
      cellGrams: text(facts.equipment.cellGrams),
      cellSaltLow: text(facts.equipment.cellSalt?.low ?? null),
      cellSaltHigh: text(facts.equipment.cellSalt?.high ?? null),
      isPublic: facts.isPublic === null ? "" : String(facts.isPublic),
      cover: facts.equipment.cover ?? "",
      fillAlkalinity: text(facts.fillAlkalinity),
      fillHardness: text(facts.fillHardness),
      customerLanguage: facts.customerLanguage ?? "",
      note: facts.note,
    },
  });
  const send = (fields: Fields) =>
    dispatch("change-basin", {
      name: fields.name,
      kind: fields.kind,
      surface: fields.surface,
      indoors: fields.indoors === "true",
      isPublic: fields.isPublic === "" ? null : fields.isPublic === "true",
      sanitiser: fields.sanitiser,
      kitId: fields.kitId,
      callDays: (fields.callDays || []).map(Number).sort(),
      everyWeeks: Number(fields.everyWeeks),
      weeksFrom: fields.weeksFrom,
      season: fields.inSeason ? { from: fields.seasonFrom, to: fields.seasonTo } : null,
      callerId: fields.callerId || null,
      equipment: {
        pumpHours: typedOrNull(fields.pumpHours),
        bathers: typedOrNull(fields.bathers),
        feeder: fields.feeder || null,
        cellGrams: typedOrNull(fields.cellGrams),
        cellSalt:
          fields.cellSaltLow || fields.cellSaltHigh
            ? {
                // What was left out is told by the server, with its name.
                low: typedOrNull(fields.cellSaltLow) as number,
                high: typedOrNull(fields.cellSaltHigh) as number,
              }
            : null,
        cover: fields.cover || null,
      },
      cadence: cadenceFrom(cadence),
      note: fields.note,
      fillAlkalinity: typedOrNull(fields.fillAlkalinity),
      fillHardness: typedOrNull(fields.fillHardness),
      customerLanguage: fields.customerLanguage || null,
    });
  return (
    <div className="grid gap-4">
      <header>
        <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
        <p className="text-soft">
          <Link to={`/basins/${basin.id}`} className="link">
            {basin.name}
          </Link>
          , {basin.site.name}
        </p>
      </header>
      <form onSubmit={handleSubmit(send)} className="grid gap-4" noValidate>
        <section className="sheet grid gap-3 p-4 wide:grid-cols-3">
          <Field label={said.name}>
            <input {...register("name")} />
          </Field>
          <Field label={said.kind}>
            <select {...register("kind")}>
              <Options of={KINDS} name={(kind) => words.kinds[kind]} />
            </select>
          </Field>
          <Field label={said.surface}>
            <select {...register("surface")}>
              <Options of={SURFACES} name={surfaceName} />
            </select>
          </Field>
          <Field label={said.where}>
            <select {...register("indoors")}>
              <option value="false">{words.basin.outdoors}</option>
              <option value="true">{words.basin.indoors}</option>
            </select>
          </Field>
          <Field label={said.bathers}>
            <select {...register("isPublic")}>
              <option value="">{said.notKnown}</option>
              <option value="false">{said.household}</option>
              <option value="true">{said.public}</option>
            </select>
          </Field>
          <Field label={said.sanitiser}>
            <select {...register("sanitiser")}>
              <Options of={SANITISERS} name={(one) => said.sanitisers[one]} />
            </select>
          </Field>
          <Field label={said.kit}>
            <select {...register("kitId")}>
              <NamedOptions of={kits} />
            </select>
          </Field>
        </section>
        <section className="sheet grid gap-3 p-4">
          <h2 className="text-xl font-semibold">{said.calls}</h2>
          <fieldset className="flex flex-wrap gap-x-5">
            <legend className="text-sm text-soft">{said.weekdays}</legend>
            {[1, 2, 3, 4, 5, 6, 7].map((day) => (
              <label key={day} className="flex min-h-[44px] items-center gap-2">
                <input type="checkbox" className="h-6 min-h-0 w-6" value={day} {...register("callDays")} />
                {weekdayShort(day)}
              </label>
            ))}
          </fieldset>
          <div className="grid gap-3 wide:grid-cols-3">
            <Field label={said.everyWeeks}>
              <input inputMode="numeric" {...register("everyWeeks")} />
            </Field>
            <Field label={said.weeksFrom}>
              <input type="date" {...register("weeksFrom")} />
            </Field>
            <Field label={said.caller}>
              <select {...register("callerId")}>
                <option value="">{words.round.anybody}</option>
                <NamedOptions of={members} />
              </select>
            </Field>
          </div>
          <div className="grid items-end gap-3 wide:grid-cols-3">
            <label className="flex min-h-[48px] items-center gap-3">
              <input type="checkbox" className="h-6 min-h-0 w-6" {...register("inSeason")} />
              {said.seasonOnly}
            </label>
            {watch("inSeason") ? (
              <>
                <Field label={said.seasonFrom}>
                  <input {...register("seasonFrom")} />
                </Field>
                <Field label={said.seasonTo}>
                  <input {...register("seasonTo")} />
                </Field>
              </>
            ) : null}
          </div>
        </section>
        <section className="sheet grid gap-3 p-4">
          <h2 className="text-xl font-semibold">{said.equipment}</h2>
          <div className="grid grid-cols-2 gap-3 wide:grid-cols-4">
            <Field label={said.pumpHours}>
              <input inputMode="decimal" {...register("pumpHours")} />
            </Field>
            <Field label={said.bathersADay}>
              <input inputMode="decimal" {...register("bathers")} />
            </Field>
            <Field label={said.feeder}>
              <select {...register("feeder")}>
                <option value="">{said.notKnown}</option>
                <Options of={FEEDERS} name={(one) => said.feeders[one]} />
              </select>
            </Field>
            <Field label={said.cellGrams}>
              <input inputMode="decimal" {...register("cellGrams")} />
            </Field>
            <Field label={said.cellSaltLow}>
              <input inputMode="decimal" {...register("cellSaltLow")} />
            </Field>
            <Field label={said.cellSaltHigh}>
              <input inputMode="decimal" {...register("cellSaltHigh")} />
            </Field>
            <Field label={said.cover}>
              <select {...register("cover")}>
                <option value="">{said.notKnown}</option>
                <Options of={COVERS} name={(one) => said.covers[one]} />
              </select>
            </Field>
          </div>
          <h2 className="text-xl font-semibold">{said.fill}</h2>
          <div className="grid grid-cols-2 gap-3 wide:grid-cols-4">
            <Field label={said.fillAlkalinity}>
              <input inputMode="decimal" {...register("fillAlkalinity")} />
            </Field>
            <Field label={said.fillHardness}>
              <input inputMode="decimal" {...register("fillHardness")} />
            </Field>
            <Field label={said.customerLanguage} className="col-span-2">
              <select {...register("customerLanguage")}>
                <option value="">{words.settings.asBrowser}</option>
                {languages.map(({ name, ownName }) => (
                  <option key={name} value={name} lang={name}>
                    {ownName}
                  </option>
                ))}
              </select>
            </Field>
          </div>
        </section>
        <details className="sheet p-4">
          <summary className="min-h-[44px] cursor-pointer content-center text-xl font-semibold">
            {said.cadence}
          </summary>
          <CadenceFields value={cadence} change={setCadence} usual={usual} />
        </details>
        <section className="sheet grid gap-3 p-4">
          <Field label={said.note}>
            <textarea rows={3} {...register("note")} />
          </Field>
        </section>
        <Refused answer={answer} />
        {saved ? (
          <p role="status">
            {said.saved}{" "}
            <Link to={`/basins/${basin.id}`} className="link">
              {said.toBasin({ name: basin.name })}
            </Link>
          </p>
        ) : null}
        <Button busy={busy} className="next-step justify-self-start">
          {said.save}
        </Button>
      </form>
      <section className="sheet grid gap-2 p-4">
        <h2 className="text-xl font-semibold">{said.photos}</h2>
        <Photos photos={photos} action={`/basins/${basin.id}/photos`} />
      </section>
      <History {...loaderData} />
    </div>
  );
}

function History({ history }: Route.ComponentProps["loaderData"]) {
  const { timeZone } = useFirm();
  return (
    <section className="sheet grid gap-2 p-4">
      <h2 className="text-xl font-semibold">{words.facts.history}</h2>
      {history.length === 0 ? <p className="text-soft">{words.facts.historyNone}</p> : null}
      <ul className="divide-y divide-rule">
        {history.map((entry) => (
          <li key={entry.id} className="py-2">
            {auditText(entry)}
            <span className="block text-sm text-soft">
              {dateTimeText(entry.at, timeZone)}, {entry.by}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
