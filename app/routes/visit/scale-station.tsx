import { useState } from "react";
import { measure, type ScaleMethod, type ScalePlace, scalePlaces } from "#core";
import { Button } from "../../ui/button";
import { BOUND_SIGN, bracket, unitText, valueText } from "../../ui/format";
import { useFirm } from "../../ui/use-firm";
import { useKeys } from "../../ui/use-keys";
import { words } from "../../words";
import { Preparation, type StationProps } from "./preparation";
import { useVisit } from "./use-visit";

const keyOf = (place: ScalePlace): string => `${place.from ?? ""}-${place.to ?? ""}`;

/** A comparator or a tube: pick the mark it matches, between two, or off an end. */
export function ScaleStation({ method, busy, save }: StationProps<ScaleMethod>) {
  const { readings } = useVisit();
  const { units } = useFirm();
  const saved = readings.find(
    (reading) => reading.methodId === method.id && reading.quantity === method.quantity,
  );
  const before = saved?.observation.kind === "place" ? keyOf(saved.observation.place) : "";
  const [chosen, choose] = useState(before);
  const places = scalePlaces(method);
  const place = places.find((one) => keyOf(one) === chosen);
  const measured = place ? measure(method, { kind: "place", place }) : null;
  const text = (mark: number) => valueText(method.quantity, mark, units);
  const unit = unitText(method.quantity, units);
  const finish = () => place && save({ kind: "place", place });
  useKeys({ s: finish });

  const label = ({ from, to }: ScalePlace): string => {
    if (from === null) return words.visit.below(text(to ?? 0), method.kind);
    if (to === null) return words.visit.above(text(from), method.kind);
    return from === to ? text(from) : words.visit.between(text(from), text(to));
  };

  return (
    <form
      className="grid gap-3 wide:grid-cols-[1fr_16rem]"
      onSubmit={(event) => {
        event.preventDefault();
        finish();
      }}
    >
      <fieldset className="sheet p-4">
        <legend className="float-left mb-2 w-full font-semibold">
          {method.kind === "turbidity" ? words.visit.tubePrompt : words.visit.scalePrompt}
        </legend>
        <div
          className={`clear-both grid grid-cols-2 gap-2 ${method.kind === "turbidity" ? "[&>:first-child]:col-span-2" : ""}`}
        >
          {places.map((one) => (
            <label
              key={keyOf(one)}
              className={`flex min-h-[56px] cursor-pointer items-center rounded-sm border-2 px-3 has-checked:border-action has-checked:bg-action has-checked:text-on-action has-focus-visible:outline-3 has-focus-visible:outline-offset-2 has-focus-visible:outline-action ${
                one.from === one.to ? "border-soft text-xl font-bold" : "border-rule"
              }`}
            >
              <input
                type="radio"
                name="place"
                value={keyOf(one)}
                checked={chosen === keyOf(one)}
                onChange={() => choose(keyOf(one))}
                className="sr-only"
              />
              {label(one)}
            </label>
          ))}
        </div>
      </fieldset>
      <div className="grid content-start gap-3">
        <p className="text-4xl font-bold" role="status">
          {measured
            ? `${BOUND_SIGN[measured.bound]}${valueText(method.quantity, measured.value, units)} ${unit}`
            : "–"}
          <span className="block text-base font-normal text-soft">
            {measured ? bracket(method.quantity, measured, units) : ""}
          </span>
        </p>
        <Button className="min-h-[64px]" shortcut="S" busy={busy} disabled={!place}>
          {words.visit.save}
        </Button>
        <Preparation method={method} sample={method.sample} />
      </div>
    </form>
  );
}
