import { useState } from "react";
import { useForm } from "react-hook-form";
import { useSearchParams } from "react-router";
import {
  type Basin,
  type BasinKind,
  type BasinShape,
  InputFault,
  litresFrom,
  SURFACES,
  TITRATION_KIT,
  UNIT_SYSTEMS,
  usualSetFor,
  volumeByMeter,
  volumeOf,
} from "#core";
import { allBasins } from "#server/db/basins";
import { kitsOf } from "#server/db/kits";
import { sitesOf } from "#server/db/members";
import { rangeSetsOf } from "#server/db/range-sets";
import { commandAction } from "../../commands";
import { inFirm } from "../../context";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { volumeText, waterUnit } from "../../ui/format";
import { typedOr } from "../../ui/number-text";
import { offlineAware } from "../../ui/offline";
import { NamedOptions, Options } from "../../ui/options";
import { Refused } from "../../ui/refused";
import { useClientId } from "../../ui/use-client-id";
import { useCommand } from "../../ui/use-command";
import { useFirm } from "../../ui/use-firm";
import { isTwoNumbers, WhichNumber } from "../../ui/which-number";
import { KINDS, shipped, surfaceName, words } from "../../words";
import { ByMeter, type MeterReading } from "../basin/by-meter";
import { ByTape } from "../basin/by-tape";
import type { Route } from "./+types/new";

export const loader = ({ context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => ({
    sites: await sitesOf(scope),
    kits: (await kitsOf(scope)).map(({ id, kit }) => ({ id, name: kit.name })),
    sets: (await rangeSetsOf(scope)).map(({ id, set }) => ({ id, name: set.name })),
    usual: usualOf(await allBasins(scope)),
  }));

/** The kit that most basins of the firm have, and the ranges that most of each kind have. */
function usualOf(basins: Basin[]): { kitId: string | undefined; setOf: Partial<Record<BasinKind, string>> } {
  const most = (ids: string[]) => {
    const times = (id: string) => ids.filter((one) => one === id).length;
    return ids.reduce<string | undefined>(
      (best, id) => (!best || times(id) > times(best) ? id : best),
      undefined,
    );
  };
  const ofKind = (kind: BasinKind) =>
    most(basins.filter((basin) => basin.kind === kind).map((basin) => basin.rangeSetId));
  return {
    kitId: most(basins.map((basin) => basin.kitId)),
    setOf: Object.fromEntries(KINDS.map((kind) => [kind, ofKind(kind)])),
  };
}

/** Goes to the facts of the new basin, where its calls are set. */
export const action = commandAction(["add-basin"], { "add-basin": ({ id }) => `/basins/${id}/facts` });

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.newBasin.title} · ${words.product}` }];

const VOLUME_HOWS = ["known", "shape", "meter"] as const;

/** A volume that was measured, instead of known. */
type Measured = { how: "shape"; shape: BasinShape } | { how: "meter"; meter: MeterReading };

/** What a measure comes to; null where it makes no volume: the server then says why. */
function litresOf(measured: Measured): number | null {
  try {
    return measured.how === "shape"
      ? volumeOf(measured.shape).litres
      : volumeByMeter(measured.meter.before, measured.meter.after, measured.meter.unit).litres;
  } catch (fault) {
    if (fault instanceof InputFault) return null;
    throw fault;
  }
}

interface Fields {
  siteId: string;
  siteName: string;
  street: string;
  district: string;
  contact: string;
  name: string;
  kind: BasinKind;
  surface: (typeof SURFACES)[number];
  volume: string;
  indoors: "true" | "false";
  isPublic: "" | "true" | "false";
  kitId: string;
  rangeSetId: string;
}

export default function NewBasin({ loaderData: { sites, kits, sets, usual } }: Route.ComponentProps) {
  const { dispatch, answer, busy } = useCommand<"add-basin">();
  const { units } = useFirm();
  const id = useClientId("basin");
  const siteKey = useClientId("site");
  const quotedName = (useSearchParams()[0].get("name") ?? "") !== "";
  const [isNew, setNew] = useState(sites.length === 0 || quotedName);
  const [how, setHow] = useState<(typeof VOLUME_HOWS)[number]>("known");
  const [measured, setMeasured] = useState<Measured | null>(null);
  const said = words.newBasin;
  // Until somebody chooses: what the firm's others of the kind have, or what its kind begins with.
  const setOf = (kind: BasinKind, isPublic: boolean): string =>
    // The ranges of the firm's other basins of the kind say nothing of who bathes in this one.
    (
      (isPublic ? undefined : sets.find((set) => set.id === usual.setOf[kind])) ??
      sets.find((set) => set.name === usualSetFor(kind, isPublic).name) ??
      sets[0]
    )?.id ?? "";
  const [chose, choose] = useState(false);
  // A quote that was taken brings what was typed for it.
  const [quoted] = useSearchParams();
  const { register, handleSubmit, setValue, getValues, watch } = useForm<Fields>({
    defaultValues: {
      siteId: sites[0]?.id ?? "",
      siteName: quoted.get("name") ?? "",
      street: "",
      district: "",
      contact: "",
      name: "",
      kind: KINDS.find((kind) => kind === quoted.get("kind")) ?? "pool",
      surface: "plaster",
      volume: quoted.get("volume") ?? "",
      indoors: quoted.get("indoors") === "true" ? "true" : "false",
      kitId:
        (
          kits.find((kit) => kit.id === usual.kitId) ??
          kits.find((kit) => kit.name === TITRATION_KIT.name) ??
          kits[0]
        )?.id ?? "",
      isPublic: "",
      rangeSetId: setOf("pool", false),
    },
  });
  const send = (fields: Fields, sure = false) => {
    const { siteName, street, district, contact } = fields;
    const typed = typedOr(fields.volume);
    return dispatch("add-basin", {
      id: id([fields, sure, how, measured]),
      ...(sure ? { sure } : {}),
      siteId: isNew ? siteKey() : fields.siteId,
      newSite: isNew ? { name: siteName, street, district, contact } : null,
      name: fields.name,
      kind: fields.kind,
      surface: fields.surface,
      ...(how === "known" || measured?.how !== how
        ? { litres: typeof typed === "number" ? litresFrom(typed, UNIT_SYSTEMS[units].water) : typed }
        : { measured }),
      indoors: fields.indoors === "true",
      // Left open, the server says that it is missing: the ranges that begin hang on it.
      isPublic: (fields.isPublic === "" ? undefined : fields.isPublic === "true") as boolean,
      kitId: fields.kitId,
      rangeSetId: fields.rangeSetId,
    });
  };
  const suggest = () => {
    const { kind, isPublic } = getValues();
    if (!chose) setValue("rangeSetId", setOf(kind, isPublic === "true"));
  };
  const found = measured?.how === how ? litresOf(measured) : null;
  return (
    <div className="grid max-w-3xl gap-4">
      <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
      <form id="basin" onSubmit={handleSubmit((fields) => send(fields))} className="grid gap-4" noValidate>
        <section className="sheet grid gap-3 p-4 wide:grid-cols-2">
          <label className="flex min-h-[44px] items-center gap-3 wide:col-span-2">
            <input
              type="checkbox"
              className="h-6 min-h-0 w-6"
              checked={isNew}
              disabled={sites.length === 0}
              onChange={(event) => setNew(event.target.checked)}
            />
            {said.newSite}
          </label>
          {isNew ? (
            <>
              <Field label={said.siteName}>
                <input {...register("siteName")} />
              </Field>
              <Field label={said.street}>
                <input {...register("street")} />
              </Field>
              <Field label={said.district}>
                <input {...register("district")} />
              </Field>
              <Field label={said.contact}>
                <input {...register("contact")} />
              </Field>
            </>
          ) : (
            <Field label={said.site}>
              <select {...register("siteId")}>
                <NamedOptions of={sites} />
              </select>
            </Field>
          )}
        </section>
        <section className="sheet grid gap-3 p-4 wide:grid-cols-2">
          <Field label={said.name}>
            <input {...register("name")} />
          </Field>
          <Field label={words.facts.kind}>
            <select
              {...register("kind", {
                onChange: suggest,
              })}
            >
              <Options of={KINDS} name={(kind) => words.kinds[kind]} />
            </select>
          </Field>
          <Field label={said.how}>
            <select value={how} onChange={(event) => setHow(event.target.value as typeof how)}>
              <Options of={VOLUME_HOWS} name={(one) => said.hows[one]} />
            </select>
          </Field>
          {how === "known" ? (
            <Field label={said.volume({ unit: waterUnit(units) })}>
              <input inputMode="decimal" {...register("volume")} />
              <WhichNumber
                text={watch("volume") ?? ""}
                unit={waterUnit(units)}
                set={(text) => setValue("volume", text)}
              />
            </Field>
          ) : (
            <p className="self-end py-3">
              {found === null ? said.measureBelow : <b>{volumeText(found, units)}</b>}
            </p>
          )}
          <Field label={words.facts.surface}>
            <select {...register("surface")}>
              <Options of={SURFACES} name={surfaceName} />
            </select>
          </Field>
          <Field label={words.facts.where}>
            <select {...register("indoors")}>
              <option value="false">{words.basin.outdoors}</option>
              <option value="true">{words.basin.indoors}</option>
            </select>
          </Field>
          <Field label={words.facts.bathers}>
            <select {...register("isPublic", { onChange: suggest })}>
              <option value="">{words.facts.choose}</option>
              <option value="false">{words.facts.household}</option>
              <option value="true">{words.facts.public}</option>
            </select>
          </Field>
          <Field label={words.facts.kit}>
            <select {...register("kitId")}>
              <NamedOptions of={kits} name={shipped} />
            </select>
          </Field>
          <Field label={words.basin.ranges}>
            <select {...register("rangeSetId", { onChange: () => choose(true) })}>
              <NamedOptions of={sets} name={shipped} />
            </select>
          </Field>
        </section>
      </form>
      {/* Forms of their own: what they come to stands in the form above. */}
      {how === "shape" ? (
        <ByTape
          shape={measured?.how === "shape" ? measured.shape : null}
          units={units}
          busy={false}
          save={(shape) => setMeasured({ how: "shape", shape })}
        />
      ) : how === "meter" ? (
        <ByMeter units={units} busy={false} save={(meter) => setMeasured({ how: "meter", meter })} />
      ) : null}
      <Refused answer={answer} sure={handleSubmit((fields) => send(fields, true))} />
      <Button
        form="basin"
        busy={busy}
        disabled={how === "known" ? isTwoNumbers(watch("volume") ?? "") : found === null}
        className="justify-self-start"
      >
        {said.add}
      </Button>
    </div>
  );
}
