import { useState } from "react";
import { useForm } from "react-hook-form";
import { Link } from "react-router";
import { type BasinWishes, NO_WISHES, type SitePlace } from "#core";
import { isUuid } from "#server/commands/fields";
import { basinById } from "#server/db/basins";
import { memberWeeks, placesOf, wishesOf } from "#server/db/week";
import { commandAction } from "../../commands";
import { inFirm, notFound } from "../../context";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { fieldText, typedOr, typedOrNull } from "../../ui/number-text";
import { offlineAware } from "../../ui/offline";
import { Refused } from "../../ui/refused";
import { useCommand } from "../../ui/use-command";
import { weekdayShort, words } from "../../words";
import type { Route } from "./+types/week";

/** What drawing up a week has to keep at a basin, and where its site lies. */
export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, { role }) => {
    const basin = isUuid(params.basinId) ? await basinById(scope, params.basinId) : undefined;
    if (!basin) return notFound();
    const people = await memberWeeks(scope);
    return {
      owner: role === "owner",
      id: basin.id,
      name: basin.name,
      site: basin.site.name,
      wishes: (await wishesOf(scope)).get(basin.id) ?? NO_WISHES,
      place: (await placesOf(scope)).get(basin.site.id) ?? null,
      members: people.map(({ id, name }) => ({ id, name })),
    };
  });

export const action = commandAction(["save-wishes", "save-place"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.week.wishes.title} · ${words.product}` }];

type Props = Route.ComponentProps["loaderData"];

export default function BasinWeek({ loaderData }: Route.ComponentProps) {
  const said = words.week.wishes;
  return (
    <div className="grid max-w-2xl gap-4">
      <h1 className="text-3xl font-bold tracking-tight">{said.titleOf({ name: loaderData.name })}</h1>
      <p className="text-soft">{said.hint}</p>
      <Wishes {...loaderData} />
      <Place {...loaderData} />
      <Link to={`/basins/${loaderData.id}`} className="quiet-action justify-self-start">
        {said.back}
      </Link>
    </div>
  );
}

interface Fields {
  least: string;
  most: string;
  allowed: string[];
  fixed: string[];
  daily: boolean;
  use: string;
  mayGo: string[];
}

const WEEKDAYS = [1, 2, 3, 4, 5, 6, 7] as const;
const typed = (value: number | null): string => (value === null ? "" : fieldText(value, 1));
/** A list without a choice is no wish. */
const chosen = (values: readonly string[], all: number): string[] | null =>
  values.length === 0 || values.length === all ? null : [...values];

function Wishes({ wishes, members, owner }: Props) {
  const said = words.week.wishes;
  const { dispatch, answer, saved, busy } = useCommand<"save-wishes">();
  const { register, handleSubmit } = useForm<Fields>({
    defaultValues: {
      least: typed(wishes.least),
      most: typed(wishes.most),
      allowed: (wishes.allowed ?? []).map(String),
      fixed: wishes.fixed.map(String),
      daily: wishes.daily,
      use: typed(wishes.use),
      mayGo: wishes.mayGo ?? [],
    },
  });
  const save = ({ least, most, allowed, fixed, daily, use, mayGo }: Fields) =>
    dispatch("save-wishes", {
      least: typedOrNull(least) as BasinWishes["least"],
      most: typedOrNull(most) as BasinWishes["most"],
      allowed: chosen(allowed, WEEKDAYS.length)?.map(Number) ?? null,
      fixed: fixed.map(Number),
      daily,
      use: typedOr(use),
      mayGo: chosen(mayGo, members.length),
    });
  return (
    <form className="sheet grid gap-4 p-4" noValidate onSubmit={handleSubmit(save)}>
      <fieldset disabled={!owner} className="grid gap-4">
        <div className="grid gap-3 wide:grid-cols-2">
          <Field label={said.least}>
            <input inputMode="numeric" autoComplete="off" {...register("least")} />
          </Field>
          <Field label={said.most}>
            <input inputMode="numeric" autoComplete="off" placeholder={said.mostHint} {...register("most")} />
          </Field>
        </div>
        <Weekdays legend={said.allowed} field={register("allowed")} />
        <Weekdays legend={said.fixed} field={register("fixed")} />
        <label className="flex min-h-[44px] items-center gap-3">
          <input type="checkbox" className="h-6 w-6" {...register("daily")} />
          {said.daily}
        </label>
        <fieldset className="grid gap-1">
          <legend className="text-sm text-soft">{said.mayGo}</legend>
          <div className="flex flex-wrap gap-x-5">
            {members.map(({ id, name }) => (
              <label key={id} className="flex min-h-[44px] items-center gap-2">
                <input type="checkbox" className="h-6 w-6" value={id} {...register("mayGo")} />
                {name}
              </label>
            ))}
          </div>
          <p className="text-sm text-soft">{said.mayGoHint}</p>
        </fieldset>
        <Field label={said.use} className="max-w-56">
          <input inputMode="decimal" autoComplete="off" {...register("use")} />
        </Field>
      </fieldset>
      <Refused answer={answer} />
      {saved ? <p role="status">{said.saved}</p> : null}
      {owner ? (
        <Button busy={busy} className="justify-self-start">
          {said.save}
        </Button>
      ) : (
        <p className="text-soft">{words.week.hours.ownersOnly}</p>
      )}
    </form>
  );
}

function Weekdays({ legend, field }: { legend: string; field: object }) {
  return (
    <fieldset className="grid gap-1">
      <legend className="text-sm text-soft">{legend}</legend>
      <div className="flex flex-wrap gap-x-5">
        {WEEKDAYS.map((day) => (
          <label key={day} className="flex min-h-[44px] items-center gap-2">
            <input type="checkbox" className="h-6 w-6" value={day} {...field} />
            {weekdayShort(day)}
          </label>
        ))}
      </div>
    </fieldset>
  );
}

/** Degrees that tell a yard from the next; written with a point, or a comma, and never with thousands. */
const degreesText = (degrees: number): string => String(Number(degrees.toFixed(5)));
function degreesOr(text: string): number {
  const value = Number(text.trim().replace(",", "."));
  return text.trim() === "" || Number.isNaN(value) ? (text as unknown as number) : value;
}

function Place({ site, place }: Props) {
  const said = words.week.wishes;
  const { dispatch, answer, saved, busy } = useCommand<"save-place">();
  const [latitude, setLatitude] = useState(place ? degreesText(place.latitude) : "");
  const [longitude, setLongitude] = useState(place ? degreesText(place.longitude) : "");
  const [isLost, lose] = useState(false);
  const here = () => {
    lose(false);
    navigator.geolocation.getCurrentPosition(
      ({ coords }) => {
        setLatitude(degreesText(coords.latitude));
        setLongitude(degreesText(coords.longitude));
      },
      () => lose(true),
      { enableHighAccuracy: true, timeout: 15_000 },
    );
  };
  return (
    <form
      className="sheet grid gap-3 p-4"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        const none = latitude.trim() === "" && longitude.trim() === "";
        void dispatch("save-place", {
          place: none
            ? null
            : ({ latitude: degreesOr(latitude), longitude: degreesOr(longitude) } satisfies SitePlace),
        });
      }}
    >
      <h2 className="text-xl font-semibold">{said.place({ site })}</h2>
      <p className="text-soft">{said.placeHint}</p>
      <div className="grid gap-3 wide:grid-cols-[1fr_1fr_auto] wide:items-end">
        <Field label={said.latitude}>
          <input
            inputMode="decimal"
            autoComplete="off"
            value={latitude}
            onChange={(event) => setLatitude(event.target.value)}
          />
        </Field>
        <Field label={said.longitude}>
          <input
            inputMode="decimal"
            autoComplete="off"
            value={longitude}
            onChange={(event) => setLongitude(event.target.value)}
          />
        </Field>
        <Button type="button" quiet onClick={here}>
          {said.here}
        </Button>
      </div>
      {isLost ? <p role="alert">{said.noPlace}</p> : null}
      <Refused answer={answer} />
      {saved ? <p role="status">{said.saved}</p> : null}
      <Button busy={busy} className="justify-self-start">
        {said.placeSave}
      </Button>
    </form>
  );
}
