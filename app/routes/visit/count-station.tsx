import { MoveRight } from "lucide-react";
import { Toast } from "radix-ui";
import { useState } from "react";
import { type CountState, dropFactor, type TitrationMethod, titrate } from "#core";
import type { StoredReading } from "#server/db/readings";
import { Button } from "../../ui/button";
import { bracket, plain, unitText, valueText, withUnit } from "../../ui/format";
import { useFirm } from "../../ui/use-firm";
import { useKeys } from "../../ui/use-keys";
import { words } from "../../words";
import { Preparation, type StationProps } from "./preparation";
import { useCount } from "./use-count";
import { useVisit } from "./use-visit";

/**
 * The count: one enormous number, the ppm it means so far, where the end is expected, and the colour
 * to watch for. The whole sheet is the target.
 */
export function CountStation({
  method,
  busy,
  save,
  last,
}: StationProps<TitrationMethod> & { last: StoredReading | undefined }) {
  const { visit, counts } = useVisit();
  const { units } = useFirm();
  const first = method.samples[0]?.millilitres ?? 25;
  const { state, act, kept } = useCount(visit.id, method.id, first, counts[method.id]);
  const [undone, setUndone] = useState<{ before: CountState; said: string } | null>(null);
  const known = method.samples.some((size) => size.millilitres === state.sample);
  const factor = dropFactor(method, known ? state.sample : first);
  const measured = titrate(state.drops, factor, "mg/L");
  const expected = last && last.bound === "within" && factor > 0 ? Math.round(last.value / factor) : null;
  const near = expected !== null && expected > 3 && state.drops >= expected - 2;

  const finish = () => save({ kind: "drops", count: state.drops, sample: state.sample });
  const drop = () => act({ kind: "drop" });
  /** Anything that sets the count to zero can be undone. */
  const reset = (said: string, change: () => void) => {
    if (state.drops > 0) setUndone({ before: state, said });
    change();
  };
  const takeBack = () => act({ kind: "take-back" });
  useKeys({ " ": drop, Enter: drop, Backspace: takeBack, s: finish });

  return (
    <Toast.Provider duration={8000} swipeDirection="down">
      <div className="grid gap-3 wide:grid-cols-[1fr_16rem]">
        <button
          type="button"
          data-count
          onClick={drop}
          className={`sheet grid min-h-[44dvh] cursor-pointer touch-manipulation content-center justify-items-center gap-1 p-4 text-center select-none wide:min-h-[27rem] ${near ? "border-4 border-below" : ""}`}
        >
          <span className="text-[10rem] leading-[0.95] font-bold wide:text-[13rem]" aria-live="off">
            {state.drops}
          </span>
          <span className="text-xl text-soft">{words.visit.drops(state.drops)}</span>
          <span className="mt-2 text-4xl font-bold">
            {valueText(method.quantity, measured.value, units)}{" "}
            <span className="text-2xl font-semibold">{unitText(method.quantity, units)}</span>
          </span>
          <span className="text-soft">{bracket(method.quantity, measured, units)}</span>
          {expected === null ? null : (
            <span className={near ? "font-semibold text-below" : "text-soft"}>
              {words.visit.expected(expected)}
            </span>
          )}
          <span className="mt-2 text-sm text-soft">{words.visit.countHint}</span>
        </button>
        <div className="grid content-start gap-3">
          <div className="grid grid-cols-2 gap-2 wide:grid-cols-1">
            <Button type="button" className="min-h-[64px]" shortcut="S" busy={busy} onClick={finish}>
              {words.visit.save} {valueText(method.quantity, measured.value, units)}
            </Button>
            <Button
              type="button"
              quiet
              className="min-h-[64px]"
              shortcut="⌫"
              disabled={state.drops === 0}
              onClick={takeBack}
            >
              {words.visit.takeBack}
            </Button>
          </div>
          <Endpoint method={method} />
          <fieldset className="flex flex-wrap gap-2">
            <legend className="mb-1 text-soft">
              {words.visit.sampleSize}:{" "}
              {words.visit.factor(withUnit(method.quantity, factor, units), state.sample)}
            </legend>
            {method.samples.map(({ millilitres }) => (
              <Button
                key={millilitres}
                type="button"
                quiet={millilitres !== state.sample}
                aria-pressed={millilitres === state.sample}
                onClick={() =>
                  reset(words.visit.sampleChanged(millilitres), () => act({ kind: "sample", millilitres }))
                }
              >
                {plain(millilitres, 1)} mL
              </Button>
            ))}
            <Button
              type="button"
              quiet
              disabled={state.drops === 0}
              onClick={() => reset(words.visit.restarted, () => act({ kind: "start-again" }))}
            >
              {words.visit.again}
            </Button>
          </fieldset>
          <Preparation method={method} sample={state.sample} />
          <p role="status" className={kept ? "text-sm text-soft" : "text-sm font-medium text-below"}>
            {state.sequence === 0 ? "" : kept ? words.visit.kept : words.visit.keptHere}
          </p>
        </div>
      </div>
      <Toast.Root
        open={undone !== null}
        onOpenChange={(open) => (open ? undefined : setUndone(null))}
        className="sheet flex items-center gap-4 border-ink p-3 shadow-lg"
      >
        <Toast.Description>{undone?.said}</Toast.Description>
        <Toast.Action
          altText={words.visit.undo}
          className="quiet-action"
          onClick={() =>
            undone && act({ kind: "restore", drops: undone.before.drops, sample: undone.before.sample })
          }
        >
          {words.visit.undo}
        </Toast.Action>
      </Toast.Root>
      <Toast.Viewport className="fixed inset-x-4 bottom-4 z-20 mx-auto max-w-md" />
    </Toast.Provider>
  );
}

/** The colour to watch for, before and after, as swatches with words. */
function Endpoint({ method }: { method: TitrationMethod }) {
  const swatch = (colour: TitrationMethod["before"]) => (
    <span className="grid justify-items-center gap-1">
      <svg width="72" height="30" aria-hidden="true">
        <rect x="1" y="1" width="70" height="28" rx="3" fill={colour.swatch} stroke="var(--soft)" />
      </svg>
      <span>{colour.word}</span>
    </span>
  );
  return (
    <figure className="flex items-start gap-3" aria-label={words.visit.watch}>
      {swatch(method.before)}
      <MoveRight className="mt-1" aria-label={words.visit.till} />
      {swatch(method.after)}
    </figure>
  );
}
