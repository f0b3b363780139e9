import { type FormEvent, type ReactNode, useState } from "react";
import { celsiusFrom, type MeterMethod, type Observation, UNIT_SYSTEMS } from "#core";
import { numberText, words } from "../../words";
import { Button } from "../button";
import { unitText, valueText, withUnit } from "../format";
import { typedOr } from "../number-text";
import { useUnits } from "../units";
import type { BenchProps } from "./bench";
import { DeviceReader } from "./device-reader";
import { Dilution } from "./dilution";
import { Preparation } from "./preparation";

/** A number read off an instrument or a lab's sheet, in the firm's unit. */
export function NumberSheet({
  method,
  busy,
  save,
  mind,
  watch,
  saved,
  children,
}: BenchProps<MeterMethod> & { children?: ReactNode }) {
  const units = useUnits();
  const fahrenheit = method.quantity === "temperature" && UNIT_SYSTEMS[units].heat === "F";
  const [text, setText] = useState(
    saved?.kind === "number" ? valueText(method.quantity, saved.value, units) : "",
  );
  const [dilution, setDilution] = useState(saved?.kind === "number" ? (saved.dilution ?? 1) : 1);
  const dilutes = method.source === "photometer" && method.quantity !== "ph";
  const seenIn = (typed: string, times = dilution): Observation => {
    // What is no number goes on as it was typed, so that the answer names it.
    const value = typedOr(typed);
    return {
      kind: "number",
      value: fahrenheit && typeof value === "number" ? celsiusFrom(value, "F") : value,
      ...(times > 1 ? { dilution: times } : {}),
    };
  };
  const type = (typed: string, times = dilution) => {
    setText(typed);
    setDilution(times);
    const seen = seenIn(typed, times);
    watch?.(seen.kind === "number" && Number.isFinite(seen.value) ? seen : null);
  };
  const shown = seenIn(text);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save(seenIn(text));
  };
  return (
    <form onSubmit={submit} className="sheet grid max-w-md gap-4 p-5">
      <Preparation method={method} sample={null} mind={mind} />
      <label className="grid min-w-0 gap-1 font-medium">
        {words.bench.readMeter}, {unitText(method.quantity, units)}
        <input
          inputMode="decimal"
          autoComplete="off"
          ref={focusWithKeyboard}
          value={text}
          onChange={(event) => type(event.target.value)}
          className="w-full min-w-0 text-3xl font-bold"
        />
      </label>
      <p className="text-soft">
        {words.bench.accuracy({
          accuracy:
            `${numberText(fahrenheit ? method.accuracy * 1.8 : method.accuracy, 1)} ${unitText(method.quantity, units)}`.trim(),
          relative: method.relative ? numberText(100 * method.relative, 0) : null,
        })}
      </p>
      {method.source === "photometer" ? (
        <DeviceReader quantity={method.quantity} take={(value) => type(String(value))} />
      ) : null}
      {dilutes ? <Dilution dilution={dilution} change={(times) => type("", times)} /> : null}
      {dilution > 1 && shown.kind === "number" && Number.isFinite(shown.value) ? (
        <p role="status">
          {words.bench.displayed({
            shown: withUnit(method.quantity, shown.value, units),
            dilution,
            value: withUnit(method.quantity, shown.value * dilution, units),
          })}
        </p>
      ) : null}
      {children}
      <Button busy={busy}>{words.bench.save}</Button>
    </form>
  );
}

/** The one field of the page takes the focus where a keyboard is at hand; a phone would zoom in on it. */
const focusWithKeyboard = (element: HTMLInputElement | null) => {
  if (element && !window.matchMedia("(pointer: coarse)").matches) element.focus();
};
