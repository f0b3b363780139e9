import {
  placeInRange,
  QUANTITIES,
  type Quantity,
  type Range,
  type Sample,
  STEERED,
  type WhatIfAnswer,
} from "#core";
import { Beam } from "../../ui/beam";
import { massText, plain, signed } from "../../ui/format";
import { Staff } from "../../ui/staff";
import { useUnits } from "../../ui/units";
import { words } from "../../words";

interface Props {
  before: Sample;
  answer: WhatIfAnswer;
  ranges: Partial<Record<Quantity, Range>>;
  window: { low: number; high: number };
}

/** What everything comes to: staffs, beam, the chlorine that kills, and the cost. */
export function Outcome({ before, answer, ranges, window: { low, high } }: Props) {
  const units = useUnits();
  const { after, saturation, hypochlorousAcid, cost, calcite } = answer;
  const said = words.whatIf;
  return (
    <section className="sheet grid gap-3 p-4" aria-label={said.after} data-outcome>
      <div className="flex flex-wrap items-start justify-around gap-x-1 gap-y-4">
        {STEERED.map((quantity) => {
          const value = Number(after[quantity].toPrecision(quantity === "ph" ? 3 : 4));
          return (
            <Staff
              key={quantity}
              quantity={quantity}
              measured={{ value, unit: QUANTITIES[quantity].unit, low: value, high: value, bound: "within" }}
              range={ranges[quantity]}
              ghost={before[quantity]}
              place={placeInRange({ value, bound: "within" }, ranges[quantity])}
            />
          );
        })}
      </div>
      <div className="grid items-center gap-x-6 gap-y-2 wide:grid-cols-[20rem_1fr]">
        <Beam index={saturation.full.corrected} low={low} high={high} />
        <p className="grid gap-1">
          <b className="text-3xl">{signed(saturation.full.corrected)}</b>
          <span>
            {said.calcite(massText(Math.abs(calcite) * 1000, units), calcite >= 0 ? "drop" : "take")}
          </span>
          <span>{said.hocl(plain(Number(hypochlorousAcid.toPrecision(2)), 3))}</span>
          <span className="font-semibold">{said.cost(plain(cost, 2, 2))}</span>
        </p>
      </div>
    </section>
  );
}
