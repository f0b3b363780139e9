import { useCallback, useState } from "react";
import { Link, useFetcher, useNavigate, useParams } from "react-router";
import { v5 as uuidFrom } from "uuid";
import {
  type CountState,
  countIdOf,
  type DoubtCode,
  demandTargetOf,
  isStation,
  type Kit,
  type Method,
  methodsAt,
  type Observation,
  padsWith,
  type Quantity,
  type ScaleMethod,
  STEERED,
  type Station,
  stopAfter,
} from "#core";
import { onServer } from "../../device/action.server";
import { countKey } from "../../device/drafts";
import { readCommand } from "../../device/page-command";
import { keepCount as keepCountHere, onDevice } from "../../device/seam";
import { StripSheet } from "../../ui/bench/strip-sheet";
import { TestSheet } from "../../ui/bench/test-sheet";
import { ReadingFigure } from "../../ui/figures";
import { bracket, withUnit } from "../../ui/format";
import { Refused, type SaveAnswer } from "../../ui/refused";
import { submitJson } from "../../ui/submit-json";
import { useUnits } from "../../ui/units";
import { useClientId } from "../../ui/use-client-id";
import { useKeys } from "../../ui/use-keys";
import { dueText, quantityName, shipped, words } from "../../words";
import { Agreement } from "./agreement";
import { useVisit } from "./use-visit";

export const action = onServer(readCommand);

export { stayWhenOffline as shouldRevalidate } from "../../ui/offline";

export const clientAction = onDevice(readCommand);

export default function StationPage() {
  const { station } = useParams();
  // A station that is opened is a new page: nothing of the one before stays.
  return station && isStation(station) ? <Open key={station} station={station} /> : null;
}

/** A method and the version of the kit that it belongs to. */
interface Way {
  kitId: string;
  kit: Kit;
  method: Method;
}

function Open({ station }: { station: Station }) {
  const opened = useVisit();
  const { visit, kit, otherKits, readings, beside, ranges, log, due, counts, soFar, plans } = opened;
  // After a plan's doses the water is another: what was read before them is not what is corrected now.
  const round = plans.length;
  const units = useUnits();
  const navigate = useNavigate();
  const fetcher = useFetcher<SaveAnswer>();
  const ways: Way[] = [{ id: visit.kitId, kit }, ...otherKits].flatMap(({ id, kit: from }) =>
    methodsAt(from, station).map((method) => ({ kitId: id, kit: from, method })),
  );
  const own = ways.filter((way) => way.kitId === visit.kitId);
  const standing = [...beside, ...readings].filter((reading) => reading.round === round);
  const saved = readings.find((reading) => reading.quantity === station && reading.round === round);
  const [chosen, choose] = useState(() =>
    ways.findIndex((way) => way.kitId === saved?.kitId && way.method.id === saved.methodId),
  );
  const way = ways[chosen] ?? ways[0];
  const earlierSeen = standing.find(
    (reading) => reading.kitId === way?.kitId && reading.methodId === way.method.id,
  );
  const id = useClientId(earlierSeen?.id);
  const next = `/visits/${visit.id}/${soFar.plan ? "retest" : stopAfter(soFar, station)}`;
  useKeys({ n: () => navigate(next), j: () => navigate(`/visits/${visit.id}/judge`) });
  const countId = way ? countIdOf(visit, way, round) : "";
  const keepCount = useCallback(
    (state: CountState) => keepCountHere(visit.id, { methodId: countId, ...state }),
    [visit.id, countId],
  );
  if (!way) return <p className="sheet p-4">{words.visit.skipped}</p>;

  const busy = fetcher.state !== "idle";
  const post = (body: object) => {
    if (!busy) void submitJson(fetcher, body);
  };
  const save = (seen: Observation, confirmed: DoubtCode[]) =>
    post({
      id: id([way.kitId, way.method.id, seen]),
      kitId: way.kitId,
      methodId: way.method.id,
      seen,
      confirmed,
    });
  const savePads = (pads: { method: ScaleMethod; seen: Observation }[]) =>
    post(
      pads.map(({ method, seen }, place) => ({
        // Sent again, the pads carry the same keys: each made of the first.
        id: place === 0 ? id(pads) : uuidFrom(`${place}`, id(pads)),
        kitId: way.kitId,
        methodId: method.id,
        seen,
      })),
    );
  const { method } = way;
  const last = lastOf(opened, method.quantity);
  const reason = due.find((one) => one.station === station);
  return (
    <section aria-label={quantityName(station)} className="grid gap-3">
      <header className="flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 className="text-2xl font-bold">{quantityName(station)}</h2>
        <p className="text-soft">
          {saved ? (
            <>
              {words.visit.already}:{" "}
              <b className="text-ink">
                <ReadingFigure quantity={station} value={saved.value}>
                  {withUnit(station, saved.value, units)}
                </ReadingFigure>
              </b>{" "}
              ({bracket(station, saved, units)}). {words.visit.saveReplaces}
            </>
          ) : reason ? (
            dueText(reason)
          ) : null}
        </p>
      </header>
      {station === "bromine" && method.quantity === "freeChlorine" ? (
        <p className="font-medium">{words.visit.readAsChlorine}</p>
      ) : null}
      <OwnWays own={own} way={way} choose={(one) => choose(ways.indexOf(one))} />
      <Refused answer={fetcher.data} />
      <Agreement readings={standing.filter((reading) => reading.quantity === station)} />
      {method.kind === "strip" ? (
        <StripSheet key={method.id} pads={padsWith(way.kit, method)} busy={busy} save={savePads} />
      ) : (
        <TestSheet
          key={way.kitId + method.id}
          method={method}
          busy={busy}
          save={save}
          saved={earlierSeen?.observation ?? null}
          last={last}
          range={ranges[method.quantity]}
          target={method.kind === "titration" ? demandTargetOf(way.kit, method, ranges.ph) : null}
          log={log}
          standing={standing}
          countKey={countKey(visit.id, countId)}
          keepCount={keepCount}
          count={counts[countId]}
        />
      )}
      <OtherWays ways={ways} own={own} way={way} choose={(one) => choose(ways.indexOf(one))} />
      <Link to={next} className="link justify-self-start py-3 text-soft">
        {words.visit.skip} <kbd className="key">N</kbd>
      </Link>
    </section>
  );
}

/** What the test is expected to come to: a retest what the plan promises, any other what it read last time. */
function lastOf({ plans, earlier }: ReturnType<typeof useVisit>, quantity: Quantity): number | null {
  const plan = plans.at(-1);
  const steered = STEERED.find((one) => one === quantity);
  if (plan && !plan.endedAt && steered) return plan.content.after[steered];
  const last = earlier.find((reading) => reading.quantity === quantity);
  return last?.bound === "within" ? last.value : null;
}

interface WaysProps {
  own: Way[];
  way: Way;
  choose: (way: Way) => void;
}

/** The methods of the visit's kit, where it has several or another one is in use. */
function OwnWays({ own, way, choose }: WaysProps) {
  if (own.length === 0 || (own.length === 1 && own[0] === way)) return null;
  return (
    <div className="flex flex-wrap gap-2">
      {own.map((one) => (
        <WayButton key={one.method.id} one={one} way={way} choose={choose} />
      ))}
    </div>
  );
}

/** What else is on the truck, on demand. */
function OtherWays({ ways, own, way, choose }: WaysProps & { ways: Way[] }) {
  const others = ways.filter((one) => !own.includes(one));
  if (others.length === 0) return null;
  return (
    <details open={!own.includes(way)}>
      <summary className="min-h-[44px] cursor-pointer py-2.5 text-soft">{words.visit.otherWays}</summary>
      <div className="grid gap-2 pt-1">
        {[...new Set(others.map((one) => one.kit))].map((kit) => (
          <fieldset key={kit.name} className="flex flex-wrap gap-2">
            <legend className="mb-1 text-sm text-soft">{shipped(kit.name)}</legend>
            {others
              .filter((one) => one.kit === kit)
              .map((one) => (
                <WayButton key={one.method.id} one={one} way={way} choose={choose} />
              ))}
          </fieldset>
        ))}
      </div>
    </details>
  );
}

function WayButton({ one, way, choose }: { one: Way; way: Way; choose: (way: Way) => void }) {
  return (
    <button
      type="button"
      className={one === way ? "action" : "quiet-action"}
      aria-pressed={one === way}
      onClick={() => choose(one)}
    >
      {shipped(one.method.name)}
    </button>
  );
}
