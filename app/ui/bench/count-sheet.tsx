import { Toast } from "radix-ui";
import { memo, type ReactNode, useEffect, useMemo, useState } from "react";
import {
  adviseSample,
  aheadDrops,
  type CountAction,
  type CountState,
  dropFactor,
  type Observation,
  QUANTITIES,
  seenInCount,
  type TitrationMethod,
  titrate,
} from "#core";
import { words } from "../../words";
import { Button } from "../button";
import { useKeys } from "../use-keys";
import { useStable } from "../use-stable";
import type { BenchProps } from "./bench";
import { type CountActs, CountSide } from "./count-side";
import { CountTarget } from "./count-target";
import { dropKeys } from "./drop-keys";
import { Preparation } from "./preparation";
import { type CountPlace, useCount } from "./use-count";
import { usePace } from "./use-pace";
import { useWakeLock } from "./use-wake-lock";

interface Props extends BenchProps<TitrationMethod> {
  countKey: string;
  /** Keeps the count in its visit; null on a bench without one. */
  keepCount: CountPlace["keep"];
  onServer: (CountState & { keptAt: Date }) | undefined;
  /** What speaks against it so far. */
  children?: ReactNode;
}

/**
 * The count: one enormous number, what it means so far, where the end is expected, and the colour to
 * watch for. The whole sheet is the target. The number is painted first; what stands beside it follows.
 */
export function CountSheet({
  method,
  busy,
  save,
  mind,
  watch,
  last,
  range,
  target = null,
  countKey,
  keepCount,
  onServer,
  dropped,
  anew,
  children,
}: Props) {
  const advice = useMemo(() => adviseSample(method, last, range), [method, last, range]);
  const count = useCount({ key: countKey, keep: keepCount, sample: advice.millilitres, onServer });
  const { state, act } = count;
  const [undone, setUndone] = useState<{ before: CountState; said: string } | null>(null);
  const offered = method.samples.some((size) => size.millilitres === state.sample);
  const sample = offered ? state.sample : advice.millilitres;
  const factor = dropFactor(method, sample);
  const expected = last !== null && last > 0 ? Math.max(1, Math.round(last / factor)) : null;

  const drop = () => {
    act({ kind: "drop" });
    dropped?.();
    navigator.vibrate?.(18);
  };
  const pace = usePace({ drops: state.drops, expected, drop });
  useWakeLock(state.drops > 0 || pace.running);

  /** Anything that sets the count to zero can be undone. */
  const reset = (said: string, change: () => void) => {
    if (state.drops > 0) setUndone({ before: state, said });
    change();
  };
  // Stable, so that what stands beside the number is not made again with each drop.
  const acts: CountActs = {
    finish: useStable(() => save(matchedTo(target, seenInCount(state, sample)))),
    takeBack: useStable(() => act({ kind: "take-back" })),
    changedNothing: useStable(() => act({ kind: "no-change" })),
    startPace: useStable(() => pace.start()),
    afresh: useStable((millilitres: number) =>
      reset(words.bench.sampleChanged({ millilitres }), () => {
        act(millilitres === state.sample ? { kind: "start-again" } : { kind: "sample", millilitres });
        anew?.(millilitres);
      }),
    ),
    withTitrantAhead: useStable(() =>
      reset(words.bench.fadingStarted, () => {
        act({ kind: "ahead", drops: aheadDrops(expected) });
        anew?.(sample);
      }),
    ),
  };
  const actStable = useStable(act);
  const forget = useStable(() => setUndone(null));
  const dropOnKey = useStable(drop);
  const countingKeys = useMemo(() => dropKeys(dropOnKey), [dropOnKey]);
  useKeys({
    ...countingKeys,
    Backspace: acts.takeBack,
    x: acts.changedNothing,
    p: acts.startPace,
    s: acts.finish,
  });

  const settled = useAfterPaint(state);
  const side = useMemo(
    () => ({ value: titrate(settled.drops, factor, QUANTITIES[method.quantity].unit).value, settled }),
    [settled, factor, method.quantity],
  );
  useEffect(
    () => watch?.(settled.drops > 0 ? matchedTo(target, seenInCount(settled, sample)) : null),
    [watch, settled, sample, target],
  );

  return (
    <Toast.Provider duration={8000} swipeDirection="down">
      <Elsewhere count={count} />
      <div className="grid items-start gap-3 wide:grid-cols-[1fr_17rem]">
        <div className="flex min-h-[58dvh] flex-col gap-2 wide:min-h-[31rem]">
          {state.drops === 0 ? (
            <div className="wide:hidden">
              <Preparation method={method} sample={sample} mind={mind} />
            </div>
          ) : null}
          <CountTarget
            method={method}
            state={state}
            sample={sample}
            factor={factor}
            expected={expected}
            running={pace.running}
            slow={pace.slow}
            drop={dropOnKey}
            takeBack={acts.takeBack}
            disabled={count.elsewhere !== null}
          />
        </div>
        <CountSide
          method={method}
          target={target}
          sample={sample}
          last={last}
          advice={advice}
          value={side.value}
          drops={side.settled.drops}
          ahead={side.settled.ahead}
          keeping={state.sequence === 0 || keepCount === null ? "nothing" : count.server}
          busy={busy}
          mind={mind}
          acts={acts}
          seconds={pace.seconds}
          setSeconds={pace.setSeconds}
          call={pace.call}
          setCall={pace.setCall}
        >
          {children}
        </CountSide>
      </div>
      <Undo undone={undone} act={actStable} forget={forget} />
    </Toast.Provider>
  );
}

interface UndoProps {
  undone: { before: CountState; said: string } | null;
  act: (action: CountAction) => void;
  forget: () => void;
}

/** Says what was set to zero, and brings it back. */
const Undo = memo(function Undo({ undone, act, forget }: UndoProps) {
  const restore = () => {
    if (!undone) return;
    const { drops, ahead, idle, sample } = undone.before;
    act({ kind: "restore", state: { drops, ahead, idle, sample } });
  };
  return (
    <>
      <Toast.Root
        open={undone !== null}
        onOpenChange={(open) => (open ? undefined : forget())}
        className="sheet flex items-center gap-4 border-ink p-3 shadow-lg"
      >
        <Toast.Description>{undone?.said}</Toast.Description>
        <Toast.Action altText={words.bench.undo} className="quiet-action" onClick={restore}>
          {words.bench.undo}
        </Toast.Action>
      </Toast.Root>
      <Toast.Viewport label={words.bench.undo} className="fixed inset-x-4 bottom-4 z-20 mx-auto max-w-md" />
    </>
  );
});

/** A count of demand drops says to which standard they were matched. */
const matchedTo = (target: number | null, seen: Observation): Observation =>
  seen.kind === "drops" && target !== null ? { ...seen, target } : seen;

/** Long enough for the number to be painted, short enough not to be missed. */
const AFTER_PAINT_MS = 60;

/** A value that follows once what it stands beside has been painted, and taps leave time for it. */
function useAfterPaint<T>(value: T): T {
  const [settled, settle] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => settle(value), AFTER_PAINT_MS);
    return () => clearTimeout(timer);
  }, [value]);
  return settled;
}

/** Says when this count goes on somewhere else, and how to go on with it here. */
function Elsewhere({ count }: { count: ReturnType<typeof useCount> }) {
  if (!count.elsewhere && count.notIn === 0) return null;
  return (
    <div role="alert" className="mb-3 grid gap-2 border-l-4 border-below bg-below-wash p-3 text-below">
      {count.elsewhere ? (
        <p className="font-semibold">{words.bench.elsewhere({ where: count.elsewhere })}</p>
      ) : null}
      {count.notIn > 0 ? <p>{words.bench.notIn({ drops: count.notIn, stands: count.state.drops })}</p> : null}
      <p className="flex flex-wrap gap-2">
        {count.notIn > 0 ? (
          <>
            <Button type="button" onClick={count.addLost}>
              {words.bench.addLost({ drops: count.notIn })}
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
