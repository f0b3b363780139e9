import { RadioGroup } from "radix-ui";
import { useState } from "react";
import { measure, type ScaleMethod, type ScalePlace, scalePlaces } from "#core";
import { Button } from "../../ui/button";
import { bracket, unitText, valueText } from "../../ui/format";
import { useFirm } from "../../ui/use-firm";
import { useKeys } from "../../ui/use-keys";
import { words } from "../../words";
import { Preparation, type StationProps } from "./station";
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
    <div className="grid gap-3 wide:grid-cols-[1fr_16rem]">
      <div className="sheet p-4">
        <p id="scale-prompt" className="mb-2 font-semibold">
          {method.kind === "turbidity" ? words.visit.tubePrompt : words.visit.scalePrompt}
        </p>
        <RadioGroup.Root
          aria-labelledby="scale-prompt"
          value={chosen}
          onValueChange={choose}
          className="grid grid-cols-2 gap-2 wide:grid-cols-3"
        >
          {places.map((one) => {
            const mark = one.from === one.to;
            return (
              <RadioGroup.Item
                key={keyOf(one)}
                value={keyOf(one)}
                onKeyDown={(event) => {
                  if (event.key === "Enter") finish();
                }}
                className={`min-h-[56px] cursor-pointer rounded-sm border-2 px-3 text-left data-[state=checked]:border-action data-[state=checked]:bg-action data-[state=checked]:text-on-action ${
                  mark ? "border-soft text-xl font-bold" : "border-rule"
                }`}
              >
                {label(one)}
              </RadioGroup.Item>
            );
          })}
        </RadioGroup.Root>
      </div>
      <div className="grid content-start gap-3">
        <p className="text-4xl font-bold" role="status">
          {measured ? `${valueText(method.quantity, measured.value, units)} ${unit}` : "–"}
          <span className="block text-base font-normal text-soft">
            {measured ? bracket(method.quantity, measured, units) : ""}
          </span>
        </p>
        <Button
          type="button"
          className="min-h-[64px]"
          shortcut="S"
          busy={busy}
          disabled={!place}
          onClick={finish}
        >
          {words.visit.save}
        </Button>
        <Preparation method={method} sample={method.sample} />
      </div>
    </div>
  );
}
