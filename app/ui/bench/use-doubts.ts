import { startTransition, useCallback, useMemo, useState } from "react";
import {
  contextFor,
  type Doubt,
  type DoubtCode,
  doubtsOf,
  InputFault,
  type LogView,
  type Method,
  measure,
  type Observation,
  toAnswer,
} from "#core";

type Standing = Parameters<typeof contextFor>[1];

interface Doubted {
  /** To mind while the test is prepared. */
  before: Doubt[];
  /** To know about what is on the sheet now. */
  told: Doubt[];
  /** Open questions about what is to be saved. */
  asked: Doubt[];
  watch: (seen: Observation | null) => void;
  /** Saves, or asks first. */
  save: (seen: Observation) => void;
  keep: () => void;
  back: () => void;
}

/**
 * What speaks against a test, from the log and the visit: the same checks that the server makes, so
 * that a question comes up here before anything is sent.
 */
export function useDoubts(
  method: Method,
  log: LogView,
  standing: Standing,
  send: (seen: Observation, confirmed: DoubtCode[]) => void,
): Doubted {
  const [seen, setSeen] = useState<Observation | null>(null);
  // What is said beside a count may come a moment after its number.
  const watch = useCallback((now: Observation | null) => startTransition(() => setSeen(now)), []);
  const [pending, setPending] = useState<{ seen: Observation; confirmed: DoubtCode[] } | null>(null);
  const of = useCallback(
    (observation: Observation | null): Doubt[] => {
      const result = observation && attempt(() => measure(method, observation));
      if (observation && !result) return [];
      return doubtsOf(contextFor(log, standing, { method, result, seen: observation }));
    },
    [method, log, standing],
  );
  const before = useMemo(() => of(null), [of]);
  const told = useMemo(
    () => of(seen).filter((doubt) => doubt.moment === "result" && doubt.weight === "tell"),
    [of, seen],
  );
  const open = (observation: Observation, confirmed: DoubtCode[]) => toAnswer(of(observation), confirmed);
  const go = (observation: Observation, confirmed: DoubtCode[]) => {
    if (open(observation, confirmed).length > 0) return setPending({ seen: observation, confirmed });
    setPending(null);
    send(observation, confirmed);
  };
  const asked = pending ? open(pending.seen, pending.confirmed) : [];
  return {
    before,
    told,
    asked,
    watch,
    save: (observation) => go(observation, []),
    keep: () => {
      const [first] = asked;
      if (pending && first) go(pending.seen, [...pending.confirmed, first.code]);
    },
    back: () => setPending(null),
  };
}

/** The value, or null where the input is refused; the server then names the fault. */
function attempt<T>(work: () => T): T | null {
  try {
    return work();
  } catch (fault) {
    if (fault instanceof InputFault) return null;
    throw fault;
  }
}
