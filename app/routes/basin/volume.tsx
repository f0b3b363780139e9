import { useState } from "react";
import { Link } from "react-router";
import {
  everydayAmount,
  litresFrom,
  type ProductId,
  productForm,
  UNIT_SYSTEMS,
  type UnitSystem,
  volumeIn,
} from "#core";
import { isUuid } from "#server/commands/fields";
import type { GivenOf } from "#server/commands/index";
import { basinById } from "#server/db/basins";
import { shapeOf, volumesOf } from "#server/db/volumes";
import { volumeChecks } from "#server/visits/volume-check";
import { commandAction } from "../../commands";
import { inFirm, notFound } from "../../context";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { amountText, dateText, plain, valueText, volumeText, waterUnit } from "../../ui/format";
import { typedNumber } from "../../ui/number-text";
import { offlineAware } from "../../ui/offline";
import { Refused } from "../../ui/refused";
import { useClientId } from "../../ui/use-client-id";
import { useCommand } from "../../ui/use-command";
import { useFirm } from "../../ui/use-firm";
import { isTwoNumbers, WhichNumber } from "../../ui/which-number";
import { quantityName, words } from "../../words";
import type { Route } from "./+types/volume";
import { ByMeter } from "./by-meter";
import { ByTape } from "./by-tape";

export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => {
    const basin = isUuid(params.basinId) ? await basinById(scope, params.basinId) : undefined;
    if (!basin) return notFound();
    return {
      basin,
      shape: await shapeOf(scope, basin.id),
      history: await volumesOf(scope, basin.id),
      checks: await volumeChecks(scope, basin.id),
    };
  });

export const action = commandAction(["measure-volume"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.volume.title} · ${words.product}` }];

/** A volume and how it was found. */
type Found = Omit<GivenOf<"measure-volume">, "id" | "basinId">;

export default function VolumePage({ loaderData }: Route.ComponentProps) {
  const { basin, shape, history, checks } = loaderData;
  const { units, timeZone } = useFirm();
  const said = words.volume;
  const { dispatch, answer, saved, busy } = useCommand<"measure-volume">();
  const id = useClientId(history[0]?.id);
  const [last, setLast] = useState<Found>({ how: "entered" });
  const save = (found: Found) => {
    setLast(found);
    return dispatch("measure-volume", { id: id(found), ...found });
  };
  return (
    <div className="grid gap-4">
      <header>
        <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
        <p className="text-soft">
          <Link to={`/basins/${basin.id}`} className="link">
            {basin.name}
          </Link>
          . {said.now({ volume: volumeText(basin.litres, units) })}
        </p>
      </header>
      <Refused answer={answer} sure={() => save({ ...last, sure: true })} />
      {saved ? <p role="status">{said.saved}</p> : null}
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
                    {said.doseRow({
                      product: check.product,
                      amount: amountText(
                        everydayAmount(check.grams, productForm(check.compound as ProductId), units),
                      ),
                      reading: quantityName(check.quantity),
                      before: valueText(check.quantity, check.before, units),
                      after: valueText(check.quantity, check.after, units),
                    })}
                  </p>
                  <p>
                    <b>{volumeText(check.litres, units)}</b>{" "}
                    <span className="text-soft">
                      {check.high === null
                        ? said.doseOpen({ low: volumeText(check.low, units) })
                        : words.brackets.between({
                            low: volumeText(check.low, units),
                            high: volumeText(check.high, units),
                          })}
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

function AsKnown({
  units,
  busy,
  save,
}: {
  units: UnitSystem;
  busy: boolean;
  save: (litres: number) => void;
}) {
  const unit = UNIT_SYSTEMS[units].water;
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
      <Field label={said.enteredValue({ unit: waterUnit(units) })}>
        <input
          inputMode="decimal"
          value={text}
          placeholder={plain(volumeIn(20, unit), 0)}
          onChange={(event) => setText(event.target.value)}
        />
      </Field>
      <WhichNumber text={text} unit={waterUnit(units)} set={setText} />
      <Button quiet busy={busy} disabled={isTwoNumbers(text)} className="self-end">
        {said.use}
      </Button>
    </form>
  );
}
