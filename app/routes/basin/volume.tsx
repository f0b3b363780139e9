import { useState } from "react";
import { Link, useFetcher } from "react-router";
import {
  everydayAmount,
  InputFault,
  litresFrom,
  mixesLike,
  type ProductId,
  productForm,
  type UnitSystem,
  volumeIn,
} from "#core";
import { checked } from "#core/schemas";
import { basinById } from "#server/db/basins";
import { saveVolume, shapeOf, volumesOf } from "#server/db/volumes";
import { uuidSchema, volumeSchema } from "#server/visits/schemas";
import { askWhenFar, knownVolume } from "#server/visits/volume";
import { volumeChecks } from "#server/visits/volume-check";
import { inFirm, inFirmOnce, notFound, refuse } from "../../context";
import { jsonBody } from "../../request";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { amountText, dateText, plain, valueText, volumeText } from "../../ui/format";
import { typedNumber } from "../../ui/number-text";
import { offlineAware } from "../../ui/offline";
import { Refused, type SaveAnswer } from "../../ui/refused";
import { useClientId } from "../../ui/use-client-id";
import { useFirm } from "../../ui/use-firm";
import { quantityName, words } from "../../words";
import type { Route } from "./+types/volume";
import { ByTape } from "./by-tape";

const isId = (text: string): boolean => !uuidSchema.validate(text).error;

export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => {
    const basin = isId(params.basinId) ? await basinById(scope, params.basinId) : undefined;
    if (!basin) return notFound();
    return {
      basin,
      shape: await shapeOf(scope, basin.id),
      history: await volumesOf(scope, basin.id),
      checks: await volumeChecks(scope, basin.id),
    };
  });

/** Writes a volume down; what a tape, a meter or a dose comes to is worked out here. */
export async function action({ params, request, context }: Route.ActionArgs) {
  try {
    const basinId = checked(uuidSchema, params.basinId);
    const sent = checked(volumeSchema, await jsonBody(request));
    await inFirmOnce(context, sent.id, ["volume", basinId, sent], async (scope, author) => {
      const basin = await basinById(scope, basinId);
      if (!basin) return notFound();
      const known = knownVolume(sent, await volumeChecks(scope, basinId));
      // What a dose told was worked out here, not typed.
      if (sent.how !== "dose")
        askWhenFar({ ...sent, ...known }, { last: basin.litres, others: [], kind: mixesLike(basin.kind) });
      await saveVolume(scope, author, basinId, { id: sent.id, how: sent.how, ...known });
    });
    return { saved: sent.id };
  } catch (fault) {
    if (fault instanceof InputFault) return refuse(fault);
    throw fault;
  }
}

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.volume.title} · ${words.product}` }];

export default function VolumePage({ loaderData }: Route.ComponentProps) {
  const { basin, shape, history, checks } = loaderData;
  const { units, timeZone } = useFirm();
  const said = words.volume;
  const fetcher = useFetcher<SaveAnswer & { saved?: string }>();
  const id = useClientId(history[0]?.id);
  const [last, setLast] = useState<Record<string, unknown>>({});
  const save = (body: Record<string, unknown>) => {
    setLast(body);
    return fetcher.submit({ id: id(body), ...body } as unknown as Parameters<typeof fetcher.submit>[0], {
      method: "post",
      encType: "application/json",
    });
  };
  const busy = fetcher.state !== "idle";
  return (
    <div className="grid gap-4">
      <header>
        <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
        <p className="text-soft">
          <Link to={`/basins/${basin.id}`} className="link">
            {basin.name}
          </Link>
          . {said.now(volumeText(basin.litres, units))}
        </p>
      </header>
      <Refused answer={fetcher.data} sure={() => save({ ...last, sure: true })} />
      {fetcher.data?.saved ? <p role="status">{said.saved}</p> : null}
      <ByTape
        shape={shape}
        units={units}
        busy={busy}
        save={(found) => save({ how: "shape", shape: found })}
      />
      <div className="grid items-start gap-4 wide:grid-cols-2">
        <ByMeter busy={busy} units={units} save={(meter) => save({ how: "meter", meter })} />
        <AsKnown busy={busy} units={units} save={(litres) => save({ how: "entered", litres })} />
      </div>
      <section className="sheet grid gap-2 p-4">
        <h2 className="text-xl font-semibold">{said.dose}</h2>
        <p className="max-w-prose text-soft">{checks.length > 0 ? said.doseHint : said.doseNone}</p>
        <ul className="divide-y divide-rule">
          {checks.map((check) => {
            const fits = basin.litres >= check.low && (check.high === null || basin.litres <= check.high);
            return (
              <li
                key={check.visitId + check.quantity}
                className="grid items-center gap-2 py-3 wide:grid-cols-[1fr_auto]"
              >
                <div>
                  <p>
                    <Link to={`/visits/${check.visitId}`} className="link">
                      {dateText(check.at, timeZone)}
                    </Link>
                    :{" "}
                    {said.doseRow(
                      check.product,
                      amountText(
                        everydayAmount(check.grams, productForm(check.compound as ProductId), units),
                      ),
                      quantityName(check.quantity),
                      valueText(check.quantity, check.before, units),
                      valueText(check.quantity, check.after, units),
                    )}
                  </p>
                  <p>
                    <b>{volumeText(check.litres, units)}</b>{" "}
                    <span className="text-soft">
                      {check.high === null
                        ? said.doseOpen(volumeText(check.low, units))
                        : `${volumeText(check.low, units)} to ${volumeText(check.high, units)}`}
                    </span>{" "}
                    <span className={fits ? "text-soft" : "font-medium text-below"}>
                      {fits ? said.doseFits : `◆ ${said.doseOff}`}
                    </span>
                  </p>
                </div>
                {fits ? null : (
                  <Button
                    type="button"
                    quiet
                    busy={busy}
                    onClick={() => save({ how: "dose", litres: check.litres, visitId: check.visitId })}
                  >
                    {said.use}
                  </Button>
                )}
              </li>
            );
          })}
        </ul>
      </section>
      {history.length > 0 ? (
        <section className="sheet grid gap-2 p-4">
          <h2 className="text-xl font-semibold">{said.history}</h2>
          <ul className="divide-y divide-rule">
            {history.map((one) => (
              <li key={one.id} className="py-2">
                <b>{volumeText(one.litres, units)}</b> {said.how[one.how]},{" "}
                <span className="text-soft">
                  {dateText(one.knownFrom, timeZone)}, {one.by}
                </span>
              </li>
            ))}
          </ul>
        </section>
      ) : null}
    </div>
  );
}

function ByMeter({
  units,
  busy,
  save,
}: {
  units: UnitSystem;
  busy: boolean;
  save: (meter: { before: number; after: number; unit: string }) => void;
}) {
  const [before, setBefore] = useState("");
  const [after, setAfter] = useState("");
  const [unit, setUnit] = useState(units === "us" ? "us-gal" : "m3");
  const said = words.volume;
  return (
    <form
      className="sheet grid grid-cols-2 gap-3 p-4"
      onSubmit={(event) => {
        event.preventDefault();
        save({ before: typedNumber(before), after: typedNumber(after), unit });
      }}
    >
      <h2 className="col-span-2 text-xl font-semibold">{said.meter}</h2>
      <Field label={said.meterBefore}>
        <input inputMode="decimal" value={before} onChange={(event) => setBefore(event.target.value)} />
      </Field>
      <Field label={said.meterAfter}>
        <input inputMode="decimal" value={after} onChange={(event) => setAfter(event.target.value)} />
      </Field>
      <Field label={said.meterUnit}>
        <select value={unit} onChange={(event) => setUnit(event.target.value)}>
          {Object.entries(said.units).map(([name, text]) => (
            <option key={name} value={name}>
              {text}
            </option>
          ))}
        </select>
      </Field>
      <Button quiet busy={busy} className="self-end">
        {said.use}
      </Button>
    </form>
  );
}

function AsKnown({
  units,
  busy,
  save,
}: {
  units: UnitSystem;
  busy: boolean;
  save: (litres: number) => void;
}) {
  const unit = units === "us" ? "us-gal" : "L";
  const [text, setText] = useState("");
  const said = words.volume;
  return (
    <form
      className="sheet grid grid-cols-2 gap-3 p-4"
      onSubmit={(event) => {
        event.preventDefault();
        save(litresFrom(typedNumber(text), unit));
      }}
    >
      <h2 className="col-span-2 text-xl font-semibold">{said.entered}</h2>
      <Field label={said.enteredValue(units === "us" ? "gal" : "L")}>
        <input
          inputMode="decimal"
          value={text}
          placeholder={plain(volumeIn(20, unit), 0)}
          onChange={(event) => setText(event.target.value)}
        />
      </Field>
      <Button quiet busy={busy} className="self-end">
        {said.use}
      </Button>
    </form>
  );
}
