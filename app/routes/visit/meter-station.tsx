import { type FormEvent, useState } from "react";
import { celsiusFrom, type MeterMethod } from "#core";
import { Button } from "../../ui/button";
import { unitText, valueText } from "../../ui/format";
import { useFirm } from "../../ui/use-firm";
import { words } from "../../words";
import { Preparation, type StationProps } from "./preparation";
import { useVisit } from "./use-visit";

/** A number read off an instrument, in the firm's unit. */
export function MeterStation({ method, busy, save }: StationProps<MeterMethod>) {
  const { readings } = useVisit();
  const { units } = useFirm();
  const saved = readings.find((reading) => reading.methodId === method.id);
  const [text, setText] = useState(saved ? valueText(method.quantity, saved.value, units) : "");
  const fahrenheit = method.quantity === "temperature" && units === "us";
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const typed = text.trim() === "" ? Number.NaN : Number(text.replace(",", "."));
    save({ kind: "number", value: fahrenheit ? celsiusFrom(typed, "F") : typed });
  };
  return (
    <form onSubmit={submit} className="sheet grid max-w-md gap-4 p-5">
      <Preparation method={method} sample={null} />
      <label className="grid gap-1 font-medium">
        {words.visit.readMeter}, {unitText(method.quantity, units)}
        <input
          inputMode="decimal"
          autoComplete="off"
          // biome-ignore lint/a11y/noAutofocus: the one field of the page that was just opened
          autoFocus
          value={text}
          onChange={(event) => setText(event.target.value)}
          className="text-3xl font-bold"
        />
      </label>
      <Button busy={busy}>{words.visit.save}</Button>
    </form>
  );
}
