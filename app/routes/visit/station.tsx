import { useState } from "react";
import { Link, redirect, useFetcher, useNavigate, useParams } from "react-router";
import { InputFault, isStation, methodsAt, type Observation, STATION_ORDER, type Station } from "#core";
import { checked } from "#core/schemas";
import { observationSchema, uuidSchema } from "#server/visits/schemas";
import { recordObservation } from "#server/visits/visit";
import { inFirm, notFound, refuse } from "../../context";
import { bracket, withUnit } from "../../ui/format";
import { offlineAware } from "../../ui/offline";
import { useClientId } from "../../ui/use-client-id";
import { useFirm } from "../../ui/use-firm";
import { useKeys } from "../../ui/use-keys";
import { faultSentence, quantityName, words } from "../../words";
import type { Route } from "./+types/station";
import { CountStation } from "./count-station";
import { MeterStation } from "./meter-station";
import { ScaleStation } from "./scale-station";
import { useVisit } from "./use-visit";

export const loader = ({ params }: Route.LoaderArgs) => (isStation(params.station) ? null : notFound());

/** Saves what was seen, and goes on to the next station. */
export async function action({ params, request, context }: Route.ActionArgs) {
  if (!isStation(params.station)) return notFound();
  try {
    const visitId = checked(uuidSchema, params.visitId);
    const sent = checked(observationSchema, await request.json().catch(() => null));
    await inFirm(context, (scope, { firmId, memberId }, now) =>
      recordObservation(scope, { firmId, memberId, now }, visitId, sent),
    );
    return redirect(`/visits/${visitId}/${after(params.station)}`);
  } catch (fault) {
    if (fault instanceof InputFault) return refuse(fault);
    throw fault;
  }
}

export { stayWhenOffline as shouldRevalidate } from "../../ui/offline";

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

const after = (station: Station): string => STATION_ORDER[STATION_ORDER.indexOf(station) + 1] ?? "judge";

export default function StationPage() {
  const { station } = useParams();
  // A station that is opened is a new page: nothing of the one before stays.
  return station && isStation(station) ? <Open key={station} station={station} /> : null;
}

function Open({ station }: { station: Station }) {
  const { visit, kit, readings, earlier } = useVisit();
  const { units } = useFirm();
  const navigate = useNavigate();
  const fetcher = useFetcher<{ fault?: Parameters<typeof faultSentence>[0]; offline?: true }>();
  const methods = methodsAt(kit, station);
  const saved = readings.find((reading) => reading.quantity === station);
  const [chosen, choose] = useState(saved?.methodId ?? methods[0]?.id);
  const method = methods.find((one) => one.id === chosen) ?? methods[0];
  const id = useClientId(saved?.id);
  const next = `/visits/${visit.id}/${after(station)}`;
  useKeys({ n: () => navigate(next), j: () => navigate(`/visits/${visit.id}/judge`) });
  if (!method) return <p className="sheet p-4">{words.visit.skipped}</p>;

  const save = (seen: Observation) => {
    if (fetcher.state !== "idle") return;
    fetcher.submit(
      { id: id(), methodId: method.id, seen } as unknown as Parameters<typeof fetcher.submit>[0],
      {
        method: "post",
        encType: "application/json",
      },
    );
  };
  const busy = fetcher.state !== "idle";
  const last = earlier.find((reading) => reading.quantity === station);
  return (
    <section aria-label={quantityName(station)} className="grid gap-3">
      <header className="flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 className="text-2xl font-bold">{quantityName(station)}</h2>
        {saved ? (
          <p className="text-soft">
            {words.visit.already}: <b className="text-ink">{withUnit(station, saved.value, units)}</b> (
            {bracket(station, saved, units)}). {words.visit.saveReplaces}
          </p>
        ) : null}
      </header>
      {methods.length > 1 ? (
        <fieldset className="flex flex-wrap items-center gap-2">
          <legend className="float-left mr-3 py-3 text-soft">{words.visit.method}</legend>
          {methods.map((one) => (
            <button
              key={one.id}
              type="button"
              className={one === method ? "action" : "quiet-action"}
              aria-pressed={one === method}
              onClick={() => choose(one.id)}
            >
              {one.name}
            </button>
          ))}
        </fieldset>
      ) : null}
      {fetcher.data?.fault ? (
        <p role="alert" className="border-l-4 border-above bg-above-wash p-3 text-above">
          {faultSentence(fetcher.data.fault)}
        </p>
      ) : null}
      {fetcher.data?.offline ? (
        <p role="alert" className="border-l-4 border-below bg-below-wash p-3 text-below">
          {words.visit.offline}
        </p>
      ) : null}
      {method.kind === "titration" ? (
        <CountStation key={method.id} method={method} busy={busy} save={save} last={last} />
      ) : method.kind === "meter" ? (
        <MeterStation key={method.id} method={method} busy={busy} save={save} />
      ) : (
        <ScaleStation key={method.id} method={method} busy={busy} save={save} />
      )}
      <Link to={next} className="link justify-self-start py-3 text-soft">
        {words.visit.skip} <kbd className="key">N</kbd>
      </Link>
    </section>
  );
}
