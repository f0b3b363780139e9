import { memo, type ReactNode } from "react";
import {
  placeInRange,
  QUANTITIES,
  type Quantity,
  type Range,
  type Sample,
  STEERED,
  type WhatIfAnswer,
} from "#core";
import { quantityShort, words } from "../words";
import { Beam } from "./beam";
import { massText, plain, signed, valueText } from "./format";
import { Staff } from "./staff";
import { useUnits } from "./units";

interface Props {
  before: Sample;
  answer: WhatIfAnswer;
  ranges: Partial<Record<Quantity, Range>>;
  window: { low: number; high: number };
  /** Writes what it costs; without it no cost is told. */
  money?: ((amount: number) => string) | undefined;
}

/** What everything comes to: staffs, beam, the chlorine that kills, and the cost. */
export function Outcome({ before, answer, ranges, window: { low, high }, money }: Props) {
  const units = useUnits();
  const { after, saturation, hypochlorousAcid, cost, calcite } = answer;
  const said = words.whatIf;
  return (
    <section
      className="sheet grid gap-3 p-4 [contain:layout_paint_style]"
      aria-label={said.after}
      data-outcome
    >
      <div className="flex flex-wrap items-start justify-around gap-x-1 gap-y-4">
        {STEERED.map((quantity) => (
          <Reading
            key={quantity}
            quantity={quantity}
            value={Number(after[quantity].toPrecision(quantity === "ph" ? 3 : 4))}
            before={before[quantity]}
            range={ranges[quantity]}
          />
        ))}
      </div>
      <div className="grid items-center gap-x-6 gap-y-2 wide:grid-cols-[20rem_1fr]">
        <Beam index={saturation.full.corrected} low={low} high={high} />
        <Still className="h-36">
          <p className="grid gap-1">
            <b className="text-3xl">{signed(saturation.full.corrected)}</b>
            <span>
              {said.calcite({
                mass: massText(Math.abs(calcite) * 1000, units),
                way: calcite >= 0 ? "drop" : "take",
              })}
            </span>
            <span>{said.hocl({ value: plain(Number(hypochlorousAcid.toPrecision(2)), 3) })}</span>
            {money ? <span className="font-semibold">{said.cost({ amount: money(cost) })}</span> : null}
          </p>
        </Still>
      </div>
    </section>
  );
}

/**
 * The outcome in one line that stays in sight while a thumb is at the sliders of a phone; or why the
 * numbers make no water, which is told above the outcome too.
 */
export function Strip({
  answer: { after, saturation },
  fault,
  ranges,
}: Pick<Props, "answer" | "ranges"> & { fault: string | null }) {
  const units = useUnits();
  if (fault)
    return (
      <p
        aria-hidden="true"
        className="sticky top-0 z-10 -mx-4 min-h-10 border-b border-below bg-below-wash px-4 py-2 text-sm text-below wide:hidden"
      >
        {fault}
      </p>
    );
  return (
    <div aria-hidden="true" className="sticky top-0 z-10 -mx-4 h-10 wide:hidden">
      <p className="flex h-full justify-between gap-1 border-b border-rule bg-paper px-4 py-2 text-sm [contain:strict]">
        {STEERED.map((quantity) => {
          const value = Number(after[quantity].toPrecision(quantity === "ph" ? 3 : 2));
          const place = placeInRange({ value, bound: "within" }, ranges[quantity]);
          return (
            <span
              key={quantity}
              className={place === "low" ? "text-below" : place === "high" ? "text-above" : ""}
            >
              {quantityShort(quantity)} <b>{valueText(quantity, value, units)}</b>
              {place === "within" ? "" : place === "low" ? "▼" : "▲"}
            </span>
          );
        })}
        <b>{signed(saturation.full.corrected)}</b>
      </p>
    </div>
  );
}

/** A place of a fixed size: what changes in it moves nothing beside it, so the browser lays out nothing else. */
function Still({ className, children }: { className: string; children: ReactNode }) {
  return (
    <div className={className}>
      <div className="h-full [contain:strict]">{children}</div>
    </div>
  );
}

/** One staff; it is drawn anew only when its own number moves. */
const Reading = memo(function Reading({
  quantity,
  value,
  before,
  range,
}: {
  quantity: Quantity;
  value: number;
  before: number;
  range: Range | undefined;
}) {
  return (
    <Still className="h-[19.5rem] w-24">
      <Staff
        quantity={quantity}
        measured={{ value, unit: QUANTITIES[quantity].unit, low: value, high: value, bound: "within" }}
        range={range}
        ghost={before}
        place={placeInRange({ value, bound: "within" }, range)}
      />
    </Still>
  );
});
