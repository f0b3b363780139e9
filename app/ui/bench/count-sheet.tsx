import { Metronome, Square } from "lucide-react";
import { Toast } from "radix-ui";
import { type ReactNode, useEffect, useState } from "react";
import {
  adviseSample,
  aheadDrops,
  type CountState,
  dropFactor,
  QUANTITIES,
  type TitrationMethod,
  titrate,
} from "#core";
import { words } from "../../words";
import { Button } from "../button";
import { bracket, plain, unitText, valueText, withUnit } from "../format";
import { useUnits } from "../units";
import { useKeys } from "../use-keys";
import type { BenchProps } from "./bench";
import { dropKeys } from "./drop-keys";
import { Endpoint } from "./endpoint";
import { LostCount } from "./lost-count";
import { PaceControls } from "./pace-controls";
import { Preparation } from "./preparation";
import { useCount } from "./use-count";
import { usePace } from "./use-pace";
import { useWakeLock } from "./use-wake-lock";

interface Props extends BenchProps<TitrationMethod> {
  countKey: string;
  /** Where the server keeps the count; null on a bench without a visit. */
  url: string | null;
  onServer: (CountState & { keptAt: Date }) | undefined;
  /** What speaks against it so far. */
  children?: ReactNode;
}

/**
 * The count: one enormous number, what it means so far, where the end is expected, and the colour to
 * watch for. The whole sheet is the target.
 */
export function CountSheet({
  method,
  busy,
  save,
  mind,
  watch,
  last,
  range,
  countKey,
  url,
  onServer,
  children,
}: Props) {
  const units = useUnits();
  const advice = adviseSample(method, last, range);
  const count = useCount({ key: countKey, url, methodId: method.id, sample: advice.millilitres, onServer });
  const { state, act } = count;
  const [undone, setUndone] = useState<{ before: CountState; said: string } | null>(null);
  const offered = method.samples.some((size) => size.millilitres === state.sample);
  const sample = offered ? state.sample : advice.millilitres;
  const factor = dropFactor(method, sample);
  const measured = titrate(state.drops, factor, QUANTITIES[method.quantity].unit);
  const expected = last !== null && last > 0 ? Math.max(1, Math.round(last / factor)) : null;
  const seen = {
    kind: "drops" as const,
    count: state.drops,
    sample,
    ...(state.ahead > 0 ? { ahead: state.ahead } : {}),
    ...(state.idle > 0 ? { idle: state.idle } : {}),
  };

  const drop = () => {
    act({ kind: "drop" });
    navigator.vibrate?.(18);
  };
  const pace = usePace({ drops: state.drops, expected, drop });
  const near = pace.slow && expected !== null;
  useWakeLock(state.drops > 0 || pace.running);
  const finish = () => save(seen);
  /** Anything that sets the count to zero can be undone. */
  const reset = (said: string, change: () => void) => {
    if (state.drops > 0) setUndone({ before: state, said });
    change();
  };
  const afresh = (millilitres: number) =>
    reset(words.bench.sampleChanged(millilitres), () =>
      act(millilitres === state.sample ? { kind: "start-again" } : { kind: "sample", millilitres }),
    );
  const takeBack = () => act({ kind: "take-back" });
  const changedNothing = () => act({ kind: "no-change" });
  useKeys({
    ...dropKeys(drop),
    Backspace: takeBack,
    x: changedNothing,
    p: pace.start,
    s: finish,
  });
  const drops = state.drops;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is seen changes with the count alone
  useEffect(() => watch?.(drops > 0 ? seen : null), [drops, sample, state.ahead]);

  return (
    <Toast.Provider duration={8000} swipeDirection="down">
      <Elsewhere count={count} />
      <div className="grid items-start gap-3 wide:grid-cols-[1fr_17rem]">
        <div className="flex min-h-[58dvh] flex-col gap-2 wide:min-h-[31rem]">
          {drops === 0 ? (
            <div className="wide:hidden">
              <Preparation method={method} sample={sample} mind={mind} />
            </div>
          ) : null}
          <button
            type="button"
            data-count
            onClick={drop}
            disabled={count.elsewhere !== null}
            className={`sheet grid grow cursor-pointer touch-manipulation content-center justify-items-center gap-1 p-3 text-center select-none disabled:opacity-45 ${near ? "border-4 border-below" : ""}`}
          >
            <span
              className="text-[clamp(11rem,30dvh,13rem)] leading-[0.85] font-bold wide:text-[14rem]"
              aria-live="off"
            >
              {drops}
            </span>
            <span className="text-lg text-soft">
              {words.bench.drops(drops)}
              {state.ahead > 0 ? `, ${words.bench.aheadOf(state.ahead)}` : ""}
            </span>
            <span className="mt-1 text-4xl font-bold">
              {valueText(method.quantity, measured.value, units)}{" "}
              <span className="text-2xl font-semibold">{unitText(method.quantity, units)}</span>
            </span>
            <span className="text-soft">
              {bracket(method.quantity, measured, units)} ·{" "}
              {words.bench.factor(withUnit(method.quantity, factor, units), sample)}
            </span>
            {expected === null ? null : (
              <span className={near ? "font-semibold text-below" : "text-soft"}>
                {pace.running && near ? words.bench.slowing(expected) : words.bench.expected(expected)}
              </span>
            )}
            <span className="text-sm text-soft">
              {pace.running ? words.bench.paceHint : words.bench.countHint}
            </span>
          </button>
        </div>
        <div className="grid content-start gap-3">
          <div className="grid grid-cols-2 gap-2">
            <Button
              type="button"
              className="min-h-[64px] wide:col-span-2"
              shortcut="S"
              busy={busy}
              onClick={finish}
            >
              {words.bench.save} {valueText(method.quantity, measured.value, units)}
            </Button>
            <Button
              type="button"
              quiet
              className="min-h-[64px]"
              shortcut="⌫"
              disabled={drops === state.ahead}
              onClick={takeBack}
            >
              {words.bench.takeBack}
            </Button>
            <Button
              type="button"
              quiet
              className="min-h-[64px] leading-tight"
              shortcut="X"
              disabled={drops === state.ahead}
              onClick={changedNothing}
            >
              {words.bench.changedNothing}
            </Button>
            <Button
              type="button"
              quiet
              className="min-h-[64px] wide:col-span-2"
              shortcut="P"
              onClick={pace.start}
            >
              {pace.running ? (
                <Square size={20} aria-hidden="true" />
              ) : (
                <Metronome size={20} aria-hidden="true" />
              )}
              {pace.running ? words.bench.paceStop : words.bench.paceStart(plain(pace.seconds, 2))}
            </Button>
          </div>
          {children}
          <Endpoint method={method} />
          <div className={drops === 0 ? "hidden wide:block" : ""}>
            <Preparation method={method} sample={sample} mind={mind} />
          </div>
          <PaceControls pace={pace} />
          {method.samples.length > 1 ? (
            <fieldset className="flex flex-wrap gap-2">
              <legend className="mb-1 text-soft">{words.bench.sampleWhy(advice)}</legend>
              {method.samples.map(({ millilitres }) => (
                <Button
                  key={millilitres}
                  type="button"
                  quiet={millilitres !== sample}
                  aria-pressed={millilitres === sample}
                  onClick={() => millilitres !== sample && afresh(millilitres)}
                >
                  {plain(millilitres, 1)} mL
                </Button>
              ))}
            </fieldset>
          ) : null}
          <LostCount
            method={method}
            sample={sample}
            drops={drops}
            last={last}
            afresh={afresh}
            fading={
              method.traps?.includes("metals")
                ? () =>
                    reset(words.bench.fadingStarted, () =>
                      act({ kind: "ahead", drops: aheadDrops(expected) }),
                    )
                : null
            }
          />
          <p role="status" className={count.kept ? "text-sm text-soft" : "text-sm font-medium text-below"}>
            {state.sequence === 0 || url === null ? "" : count.kept ? words.bench.kept : words.bench.keptHere}
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
          altText={words.bench.undo}
          className="quiet-action"
          onClick={() => undone && act({ kind: "restore", state: pickCount(undone.before) })}
        >
          {words.bench.undo}
        </Toast.Action>
      </Toast.Root>
      <Toast.Viewport className="fixed inset-x-4 bottom-4 z-20 mx-auto max-w-md" />
    </Toast.Provider>
  );
}

const pickCount = ({ drops, ahead, idle, sample }: CountState) => ({ drops, ahead, idle, sample });

/** Says when this count goes on somewhere else, and how to go on with it here. */
function Elsewhere({ count }: { count: ReturnType<typeof useCount> }) {
  if (!count.elsewhere && count.notIn === 0) return null;
  return (
    <div role="alert" className="mb-3 grid gap-2 border-l-4 border-below bg-below-wash p-3 text-below">
      {count.elsewhere ? <p className="font-semibold">{words.bench.elsewhere(count.elsewhere)}</p> : null}
      {count.notIn > 0 ? <p>{words.bench.notIn(count.notIn, count.state.drops)}</p> : null}
      <p className="flex flex-wrap gap-2">
        {count.notIn > 0 ? (
          <>
            <Button type="button" onClick={count.addLost}>
              {words.bench.addLost(count.notIn)}
            </Button>
            <Button type="button" quiet onClick={count.leaveLost}>
              {words.bench.leaveLost}
            </Button>
          </>
        ) : (
          <Button type="button" onClick={count.takeOver}>
            {words.bench.countHere}
          </Button>
        )}
      </p>
    </div>
  );
}
