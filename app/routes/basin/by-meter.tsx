import { useState } from "react";
import { UNIT_SYSTEMS, type UnitSystem, type VolumeUnit } from "#core";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { typedNumber } from "../../ui/number-text";
import { words } from "../../words";

export interface MeterReading {
  before: number;
  after: number;
  unit: VolumeUnit;
}

/** How much the water meter said went in. */
export function ByMeter({
  units,
  busy,
  save,
}: {
  units: UnitSystem;
  busy: boolean;
  save: (meter: MeterReading) => void;
}) {
  const [before, setBefore] = useState("");
  const [after, setAfter] = useState("");
  const [unit, setUnit] = useState<VolumeUnit>(UNIT_SYSTEMS[units].meter);
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
        <select value={unit} onChange={(event) => setUnit(event.target.value as VolumeUnit)}>
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
