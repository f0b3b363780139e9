import { memo } from "react";
import { type CountState, QUANTITIES, type TitrationMethod, titrate } from "#core";
import { words } from "../../words";
import { bracket, unitText, valueText, withUnit } from "../format";
import { useUnits } from "../units";

interface Props {
  method: TitrationMethod;
  state: CountState;
  sample: number;
  factor: number;
  expected: number | null;
  /** Whether the beat runs, and whether it has slowed down near the expected end. */
  running: boolean;
  slow: boolean;
  drop: () => void;
  takeBack: () => void;
  disabled: boolean;
}

/** The number, and all round it the target for the next drop. */
export const CountTarget = memo(function CountTarget({
  method,
  state,
  sample,
  factor,
  expected,
  running,
  slow,
  drop,
  takeBack,
  disabled,
}: Props) {
  const units = useUnits();
  const { quantity } = method;
  const measured = titrate(state.drops, factor, QUANTITIES[quantity].unit);
  const near = slow && expected !== null;
  return (
    <button
      type="button"
      data-count
      // The drop counts as the thumb comes down. Where that turns out to be the start of a scroll, it
      // is taken back; once a count runs, a thumb that slides is no scroll.
      onPointerDown={(event) => event.isPrimary && event.button === 0 && drop()}
      onPointerCancel={takeBack}
      // A press without a pointer: a screen reader's, or a switch's.
      onClick={(event) => event.detail === 0 && drop()}
      disabled={disabled}
      className={`sheet grid grow cursor-pointer content-center justify-items-center gap-1 p-3 text-center select-none contain-content disabled:opacity-45 ${state.drops > 0 ? "touch-none" : "touch-manipulation"} ${near ? "border-4 border-below" : ""}`}
    >
      <span
        className={`leading-[0.85] font-bold wide:text-[14rem] ${state.drops < 100 ? "text-[15rem]" : "text-[9.5rem]"}`}
        aria-live="off"
      >
        {state.drops}
      </span>
      <span className="text-lg text-soft">
        {words.bench.drops({ count: state.drops })}
        {state.ahead > 0 ? `, ${words.bench.aheadOf({ count: state.ahead })}` : ""}
      </span>
      <span className="mt-1 text-4xl font-bold">
        {valueText(quantity, measured.value, units)}{" "}
        <span className="text-2xl font-semibold">{unitText(quantity, units)}</span>
      </span>
      <span className="text-soft">
        {bracket(quantity, measured, units)} ·{" "}
        {words.bench.factor({ worth: withUnit(quantity, factor, units), sample })}
      </span>
      {expected === null ? null : (
        <span className={near ? "font-semibold text-below" : "text-soft"}>
          {running && near
            ? words.bench.slowing({ drops: expected })
            : words.bench.expected({ drops: expected })}
        </span>
      )}
      <span className="text-sm text-soft">{running ? words.bench.paceHint : words.bench.countHint}</span>
    </button>
  );
});
