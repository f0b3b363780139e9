import { useCallback, useEffect, useRef, useState } from "react";
import { type CountAction, type CountState, countStep, laterCount, newCount } from "#core";

/**
 * A titration's count, kept in three places: the page, this device's storage, and the server. Every
 * tap is written to the device before anything else happens; the server gets the newest state, one
 * request at a time, and again until it answers. Whichever copy is later wins.
 */
export interface Count {
  state: CountState;
  act: (action: CountAction) => void;
  /** Whether the server has the state that is shown. */
  kept: boolean;
}

const RETRY_MS = 1500;

const storageKey = (visitId: string, methodId: string) => `pelagon.count.${visitId}.${methodId}`;

function fromDevice(key: string): CountState | null {
  try {
    const parsed = JSON.parse(localStorage.getItem(key) ?? "null");
    const whole = ["drops", "sample", "sequence"].every((field) => Number.isFinite(parsed?.[field]));
    return whole ? parsed : null;
  } catch {
    return null;
  }
}

function toDevice(key: string, state: CountState): void {
  try {
    localStorage.setItem(key, JSON.stringify(state));
  } catch {
    // Storage may be full or forbidden; the server copy still stands.
  }
}

export function useCount(
  visitId: string,
  methodId: string,
  sample: number,
  onServer: CountState | undefined,
): Count {
  const key = storageKey(visitId, methodId);
  const [state, setState] = useState<CountState>(onServer ?? newCount(sample));
  const [keptSequence, setKept] = useState(onServer?.sequence ?? -1);
  const atFirst = useRef(keptSequence);
  const newest = useRef(state);
  const sending = useRef(false);
  const mounted = useRef(true);

  const adopt = useCallback(
    (next: CountState) => {
      newest.current = next;
      toDevice(key, next);
      setState(next);
    },
    [key],
  );

  const send = useCallback(async () => {
    if (sending.current) return;
    sending.current = true;
    try {
      for (;;) {
        const { drops, sample: millilitres, sequence } = newest.current;
        try {
          const answer = await fetch(`/visits/${visitId}/counts`, {
            method: "POST",
            headers: { "Content-Type": "application/json" },
            body: JSON.stringify({ methodId, drops, sample: millilitres, sequence }),
            keepalive: true,
            redirect: "error",
          });
          if (!answer.ok) return;
          const { stands }: { stands: CountState } = await answer.json();
          setKept(stands.sequence);
          if (stands.sequence > newest.current.sequence) adopt(stands);
          if (newest.current.sequence <= stands.sequence) return;
        } catch {
          await new Promise((done) => setTimeout(done, RETRY_MS));
          if (!mounted.current) return;
        }
      }
    } finally {
      sending.current = false;
    }
  }, [adopt, methodId, visitId]);

  useEffect(() => {
    mounted.current = true;
    const here = fromDevice(key);
    if (here) {
      const later = laterCount(newest.current, here);
      if (later !== newest.current) adopt(later);
      if (later.sequence > atFirst.current) void send();
    }
    return () => {
      mounted.current = false;
    };
  }, [key, adopt, send]);

  const act = useCallback(
    (action: CountAction) => {
      const next = countStep(newest.current, action);
      if (next === newest.current) return;
      adopt(next);
      void send();
    },
    [adopt, send],
  );

  return { state, act, kept: keptSequence >= state.sequence };
}
