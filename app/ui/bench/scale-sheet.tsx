import { type FormEvent, type ReactNode, useState } from "react";
import { measure, type Observation, type ScaleMethod, type ScalePlace, scalePlaces } from "#core";
import { listText, words } from "../../words";
import { Button } from "../button";
import { BOUND_SIGN, bracket, unitText, valueText } from "../format";
import { useUnits } from "../units";
import { useKeys } from "../use-keys";
import type { BenchProps } from "./bench";
import { Dilution } from "./dilution";
import { Endpoint } from "./endpoint";
import { Preparation } from "./preparation";

const keyOf = (place: ScalePlace): string => `${place.from ?? ""}-${place.to ?? ""}`;

/** A comparator or a tube: pick the mark it matches, between two, or off an end. */
export function ScaleSheet({
  method,
  busy,
  save,
  mind,
  watch,
  saved,
  children,
}: BenchProps<ScaleMethod> & { children?: ReactNode }) {
  const units = useUnits();
  const places = scalePlaces(method);
  const before = saved?.kind === "place" ? saved : null;
  const find = (place: ScalePlace | undefined) =>
    places.find((one) => place && keyOf(one) === keyOf(place)) ?? null;
  const [chosen, setChosen] = useState<ScalePlace | null>(find(before?.place));
  const [earlier, setEarlier] = useState<ScalePlace[]>([]);
  const [dilution, setDilution] = useState(before?.dilution ?? 1);
  const text = (mark: number) => valueText(method.quantity, mark, units);
  const unit = unitText(method.quantity, units);

  const seenWith = (place: ScalePlace | null, again: ScalePlace[], times: number): Observation | null => {
    const [first, ...rest] = place ? [...again, place] : again;
    if (!first) return null;
    return {
      kind: "place",
      place: first,
      ...(rest.length > 0 ? { again: rest } : {}),
      ...(times > 1 ? { dilution: times } : {}),
    };
  };
  const seen = seenWith(chosen, earlier, dilution);
  const measured = seen ? measure(method, seen) : null;
  const change = (place: ScalePlace | null, again: ScalePlace[], times: number) => {
    setChosen(place);
    setEarlier(again);
    setDilution(times);
    watch?.(seenWith(place, again, times));
  };
  const finish = () => seen && save(seen);
  useKeys({ s: finish });

  return (
    <form
      className="grid gap-3 wide:grid-cols-[1fr_17rem]"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        finish();
      }}
    >
      <div className="wide:hidden">
        <Preparation method={method} sample={method.sample} mind={mind} />
      </div>
      <fieldset className="sheet p-4">
        <legend className="float-left mb-2 w-full font-semibold">
          {method.kind === "turbidity" ? words.bench.tubePrompt : words.bench.scalePrompt}
        </legend>
        <div
          className={`clear-both grid grid-cols-2 gap-2 ${method.kind === "turbidity" ? "[&>:first-child]:col-span-2" : ""}`}
        >
          {places.map((one) => (
            <label
              key={keyOf(one)}
              className={`flex min-h-[56px] cursor-pointer items-center whitespace-nowrap rounded-sm border-2 px-3 has-checked:border-action has-checked:bg-action has-checked:text-on-action has-focus-visible:outline-3 has-focus-visible:outline-offset-2 has-focus-visible:outline-action ${
                one.from === one.to ? "border-soft text-xl font-bold" : "border-rule"
              }`}
            >
              <input
                type="radio"
                name="place"
                value={keyOf(one)}
                checked={chosen !== null && keyOf(chosen) === keyOf(one)}
                onChange={() => change(one, earlier, dilution)}
                className="sr-only"
              />
              {placeText(one, method.kind, text)}
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
            {dilution > 1 ? ` · ${words.bench.times({ dilution })}` : ""}
          </span>
        </p>
        <Button className="next-step min-h-[64px]" shortcut="S" busy={busy} disabled={!seen}>
          {words.bench.save}
        </Button>
        {children}
        {method.kind === "turbidity" ? (
          <>
            <Button
              type="button"
              quiet
              disabled={!chosen || earlier.length >= 4}
              onClick={() => chosen && change(null, [...earlier, chosen], dilution)}
            >
              {words.bench.readAgain}
            </Button>
            {earlier.length > 0 ? (
              <p className="text-soft">
                {words.bench.readSoFar({
                  readings: listText(earlier.map((place) => placeText(place, method.kind, text))),
                })}
              </p>
            ) : null}
          </>
        ) : null}
        {/* A color over its last standard is diluted as a tube is; a pH is not. */}
        {method.quantity === "ph" ? null : (
          <Dilution dilution={dilution} change={(times) => change(null, [], times)} />
        )}
        <Endpoint method={method} />
        <div className="hidden wide:block">
          <Preparation method={method} sample={method.sample} mind={mind} />
        </div>
      </div>
    </form>
  );
}

/** A place on a scale in words. */
export const placeText = (
  { from, to }: ScalePlace,
  kind: ScaleMethod["kind"],
  text: (mark: number) => string,
): string => {
  if (from === null) return words.bench.below({ mark: text(to ?? 0), kind });
  if (to === null) return words.bench.above({ mark: text(from), kind });
  return from === to ? text(from) : words.bench.between({ from: text(from), to: text(to) });
};
