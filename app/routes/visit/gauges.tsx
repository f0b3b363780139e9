import { useState } from "react";
import { useLocation } from "react-router";
import {
  CONTROLLER_KINDS,
  MOST_USED,
  mixesLike,
  PLANT,
  PLANT_KINDS,
  type PlantGauge,
  type PlantKind,
  type UnitSystem,
} from "#core";
import { dateText, volumeText } from "../../ui/format";
import { gaugeOf, gaugeText } from "../../ui/gauge-text";
import { fieldText, typedOr } from "../../ui/number-text";
import { Refused } from "../../ui/refused";
import { useUnits } from "../../ui/units";
import { useFirm } from "../../ui/use-firm";
import { words } from "../../words";
import { useSend } from "./use-send";
import { useVisit } from "./use-visit";

/** What the plant shows: the gauges that were read here before, and any other that somebody adds. */
export function Gauges() {
  const { plant, basin } = useVisit();
  const units = useUnits();
  const [added, setAdded] = useState<PlantKind[]>([]);
  const known = plant.gauges.map(({ kind }) => kind);
  const gauges = PLANT_KINDS.filter((kind) => !isBucket(kind));
  const kinds = gauges.filter((kind) => known.includes(kind) || added.includes(kind));
  const others = gauges.filter((kind) => !kinds.includes(kind));
  const said = words.gauges;
  return (
    <section className="grid gap-3" aria-label={said.title}>
      <h3 className="text-xl font-semibold">{said.title}</h3>
      {kinds.length > 0 ? (
        <ul className="sheet divide-y divide-rule">
          {kinds.map((kind) => (
            <Gauge key={kind} kind={kind} gauge={plant.gauges.find((one) => one.kind === kind)} />
          ))}
        </ul>
      ) : null}
      {plant.waterADay === null ? null : (
        <p>{said.aDay({ amount: gaugeText("waterMeter", plant.waterADay, units) })}</p>
      )}
      {plant.usesMuch && plant.waterADay !== null ? (
        <p className="border-l-4 border-below pl-3">
          {said.much({
            share: Math.round((plant.waterADay * 1e6) / basin.litres) / 10,
            most: 100 * MOST_USED[mixesLike(basin.kind)],
          })}
        </p>
      ) : null}
      <BucketTest />
      {others.length > 0 ? (
        <label className="grid max-w-sm gap-1 text-soft">
          {said.add}
          <select
            value=""
            onChange={(event) => {
              const kind = PLANT_KINDS.find((one) => one === event.target.value);
              if (kind) setAdded([...added, kind]);
            }}
          >
            <option value="">{said.choose}</option>
            {others.map((kind) => (
              <option key={kind} value={kind}>
                {said.names[kind]}
              </option>
            ))}
          </select>
        </label>
      ) : null}
    </section>
  );
}

const BUCKET: readonly PlantKind[] = ["basinFall", "bucketFall"];
const isBucket = (kind: PlantKind): boolean => BUCKET.includes(kind);

/** Whether the basin leaks: its line beside that of a bucket, after a day; open where it was begun, or is asked for. */
function BucketTest() {
  const { plant } = useVisit();
  const units = useUnits();
  const said = words.gauges;
  const { bucket } = plant;
  const asked = useLocation().hash === "#bucket";
  const gaugeAt = (kind: PlantKind) => plant.gauges.find((one) => one.kind === kind);
  return (
    <details id="bucket" className="sheet p-3" open={bucket !== null || plant.usesMuch || asked}>
      <summary className="min-h-[44px] cursor-pointer content-center font-semibold">{said.bucket}</summary>
      <div className="grid gap-2">
        <p className="text-soft">{said.bucketAbout}</p>
        <ol className="list-inside list-decimal">
          {said.bucketSteps.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </ol>
        <ul className="divide-y divide-rule rounded-sm border border-rule">
          {BUCKET.map((kind) => (
            <Gauge key={kind} kind={kind} gauge={gaugeAt(kind)} />
          ))}
        </ul>
        {bucket ? (
          <p role="status" className={bucket.leaks ? "border-l-4 border-above pl-3 font-medium" : ""}>
            {bucket.leaks
              ? said.leaks({
                  more: gaugeText("basinFall", bucket.more, units),
                  amount: volumeText(bucket.litres, units),
                })
              : said.noLeak}
          </p>
        ) : null}
      </div>
    </details>
  );
}

/** How deep one sees, where a green pool is told by it. */
export function Sight() {
  const { plant } = useVisit();
  const gauge = plant.gauges.find(({ kind }) => kind === "sight");
  return (
    <div className="grid gap-1">
      <ul className="rounded-sm border border-rule">
        <Gauge kind="sight" gauge={gauge} />
      </ul>
      <p className="text-sm text-soft">{words.jobs.sightHint}</p>
    </div>
  );
}

/** One gauge: kept when its field is left, or by Enter. */
function Gauge({ kind, gauge }: { kind: PlantKind; gauge: PlantGauge | undefined }) {
  const { visit } = useVisit();
  const { timeZone } = useFirm();
  const units = useUnits();
  const { send, answer } = useSend(`/visits/${visit.id}/plant`);
  const { unit, to, from, digits } = gaugeOf(kind, units);
  const kept = gauge?.today ? fieldText(to(gauge.today.value), digits) : "";
  const [typed, setTyped] = useState(kept);
  const said = words.gauges;
  const save = (changed = false) => {
    if (typed.trim() === "" || (typed === kept && !changed)) return;
    const number = typedOr(typed);
    send({ kind, value: typeof number === "number" ? from(number) : number, changed });
  };
  // Told in what was typed, not in what is kept.
  const isBeyond = answer?.fault?.code === "too-low" || answer?.fault?.code === "too-high";
  const isLess = answer?.fault?.code === "unconfirmed";
  return (
    <li className="grid gap-1 p-3">
      <label className="grid grid-cols-[1fr_auto] items-center gap-3">
        <span>
          <span className="block font-semibold">{said.names[kind]}</span>
          {gauge?.before ? (
            <span className="block text-sm text-soft">
              {said.before({
                value: gaugeText(kind, gauge.before.value, units),
                day: dateText(gauge.before.at, timeZone),
              })}
            </span>
          ) : null}
        </span>
        <span className="flex items-center gap-2">
          <input
            inputMode="decimal"
            autoComplete="off"
            className="max-w-28"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            onBlur={() => save()}
            onKeyDown={(event) => {
              if (event.key === "Enter") save();
            }}
          />
          <span className="min-w-10 text-soft">{unit}</span>
        </span>
      </label>
      <Verdict gauge={gauge} units={units} />
      {isLess ? (
        <p role="alert" className="flex flex-wrap items-center gap-3">
          {said.less}
          <button type="button" className="quiet-action" onClick={() => save(true)}>
            {said.isNew}
          </button>
        </p>
      ) : isBeyond ? (
        <p role="alert">
          {said.beyond({
            name: said.names[kind],
            typed,
            low: gaugeText(kind, PLANT[kind].low, units),
            high: gaugeText(kind, PLANT[kind].high, units),
          })}
        </p>
      ) : (
        <Refused answer={answer} />
      )}
    </li>
  );
}

/** What a controller shows beside the drops, and a filter's pressure beside its clean one; quiet when all is right. */
function Verdict({ gauge, units }: { gauge: PlantGauge | undefined; units: UnitSystem }) {
  const { plant } = useVisit();
  const said = words.gauges;
  if (!gauge?.today) return null;
  if (gauge.kind === "filterPressure" && plant.filterFullOn !== null)
    return <p className="border-l-4 border-above pl-3 font-medium">{said.filterFull}</p>;
  if (!gauge.verdict || !CONTROLLER_KINDS.some((kind) => kind === gauge.kind)) return null;
  const { off, drifts } = gauge.verdict;
  const by = gaugeText(gauge.kind, Math.abs(off), units);
  const way = off > 0 ? said.more : said.lower;
  const line = gauge.kind === "orp" ? said.orpOff : said.off;
  return (
    <p className="border-l-4 border-above pl-3">
      <b>{line({ by, way })}</b> {drifts ? said.drifts : said.onceMore} {said.byHand}
    </p>
  );
}
