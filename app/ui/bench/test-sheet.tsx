import { useMemo } from "react";
import type { CountState, contextFor, DoubtCode, LogView, Method, Observation } from "#core";
import type { BenchProps } from "./bench";
import { CountSheet } from "./count-sheet";
import { Ask, Told } from "./doubts";
import { NumberSheet } from "./number-sheet";
import { ScaleSheet } from "./scale-sheet";
import type { CountPlace } from "./use-count";
import { useDoubts } from "./use-doubts";

interface Props extends Omit<BenchProps<Method>, "save" | "watch" | "mind"> {
  log: LogView;
  standing: Parameters<typeof contextFor>[1];
  countKey: string;
  /** Keeps a count in its visit; null on a bench without one. */
  keepCount: CountPlace["keep"];
  count: (CountState & { keptAt: Date }) | undefined;
  save: (seen: Observation, confirmed: DoubtCode[]) => void;
}

/** One test, whatever its kind: what to mind, the sheet it is made on, and the questions before it is saved. */
export function TestSheet({ log, standing, countKey, keepCount, count, save, method, ...rest }: Props) {
  const doubts = useDoubts(method, log, standing, save);
  const { quantity } = method;
  const mind = useMemo(() => <Told doubts={doubts.before} quantity={quantity} />, [doubts.before, quantity]);
  const sheet = { ...rest, mind, save: doubts.save, watch: doubts.watch };
  const told = <Told doubts={doubts.told} quantity={quantity} />;
  return (
    <>
      {doubts.asked.length > 0 ? (
        <Ask doubts={doubts.asked} quantity={method.quantity} keep={doubts.keep} back={doubts.back} />
      ) : null}
      {method.kind === "titration" ? (
        <CountSheet {...sheet} method={method} countKey={countKey} keepCount={keepCount} onServer={count}>
          {told}
        </CountSheet>
      ) : method.kind === "meter" ? (
        <NumberSheet {...sheet} method={method}>
          {told}
        </NumberSheet>
      ) : (
        <ScaleSheet {...sheet} method={method}>
          {told}
        </ScaleSheet>
      )}
    </>
  );
}
