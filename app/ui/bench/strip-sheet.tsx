import { type FormEvent, useState } from "react";
import { measure, type Observation, type ScaleMethod, type ScalePlace, scalePlaces } from "#core";
import { quantityName, words } from "../../words";
import { Button } from "../button";
import { BOUND_SIGN, unitText, valueText } from "../format";
import { useUnits } from "../units";
import { Preparation } from "./preparation";
import { placeText } from "./scale-sheet";
import { Timer } from "./timer";

interface Props {
  pads: ScaleMethod[];
  busy: boolean;
  save: (seen: { method: ScaleMethod; seen: Observation }[]) => void;
}

/** A strip: dip it once, hold it level, and read every pad against its bands. */
export function StripSheet({ pads, busy, save }: Props) {
  const units = useUnits();
  const [chosen, choose] = useState<Record<string, ScalePlace>>({});
  // In the order in which they are read; what tells no time of its own is read at once.
  const inTime = [...pads].sort((a, b) => (a.readAt ?? 0) - (b.readAt ?? 0));
  const [first] = inTime;
  const longest = inTime.at(-1)?.readAt ?? 0;
  const read = pads.flatMap((method) => {
    const place = chosen[method.id];
    return place ? [{ method, seen: { kind: "place" as const, place } }] : [];
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (read.length > 0) save(read);
  };
  return (
    <form onSubmit={submit} className="grid gap-3">
      <div className="sheet grid gap-2 p-4">
        {first ? <Preparation method={first} sample={null} /> : null}
        {longest > 0 ? (
          <p>
            {words.bench.padOrder}
            <Timer name={`strip.${first?.strip}`} seconds={longest} />
          </p>
        ) : null}
        <p className="text-soft">{words.bench.stripHint}</p>
      </div>
      {inTime.map((method) => {
        const place = chosen[method.id];
        const measured = place ? measure(method, { kind: "place", place }) : null;
        return (
          <fieldset key={method.id} className="sheet p-3">
            <legend className="float-left mb-2 flex w-full justify-between gap-3 font-semibold">
              <span>
                {quantityName(method.quantity)}
                {method.readAt ? (
                  <span className="block text-sm font-normal text-soft">
                    {words.bench.readAt({ seconds: method.readAt })}
                  </span>
                ) : null}
              </span>
              <span>
                {measured
                  ? `${BOUND_SIGN[measured.bound]}${valueText(method.quantity, measured.value, units)} ${unitText(method.quantity, units)}`
                  : words.bench.notRead}
              </span>
            </legend>
            <div className="clear-both flex flex-wrap gap-1.5">
              {scalePlaces(method).map((one) => (
                <label
                  key={`${one.from}-${one.to}`}
                  className={`flex min-h-[48px] cursor-pointer items-center rounded-sm border-2 px-2.5 has-checked:border-action has-checked:bg-action has-checked:text-on-action has-focus-visible:outline-3 has-focus-visible:outline-offset-2 has-focus-visible:outline-action ${
                    one.from === one.to ? "border-soft font-bold" : "border-rule text-sm"
                  }`}
                >
                  <input
                    type="radio"
                    name={method.id}
                    checked={place?.from === one.from && place.to === one.to}
                    onChange={() => choose({ ...chosen, [method.id]: one })}
                    className="sr-only"
                  />
                  {placeText(one, method.kind, (mark) => valueText(method.quantity, mark, units))}
                </label>
              ))}
            </div>
          </fieldset>
        );
      })}
      <Button className="next-step min-h-[64px] justify-self-start" busy={busy} disabled={read.length === 0}>
        {words.bench.savePads({ count: read.length })}
      </Button>
    </form>
  );
}
