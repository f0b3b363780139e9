import { useEffect, useRef, useState } from "react";
import { v7 as uuid } from "uuid";
import type { Measurement, Method, Observation } from "#core";
import { LOOSE_KEY } from "../../device/drafts";
import { readStored } from "../../ui/use-stored";

/** A result without a basin, kept on this device. */
export interface LooseResult {
  id: string;
  at: string;
  /** The firm's version of the kit; null when nobody was signed in. */
  kitId: string | null;
  kitName: string;
  method: Method;
  seen: Observation;
  result: Measurement;
}

export interface UnattachedResults {
  results: LooseResult[];
  /** How many were ever made here: names the next count. */
  made: number;
  /** Whether this device has them; else they last as long as the page. */
  kept: boolean;
  add: (made: Omit<LooseResult, "id" | "at">) => void;
  forget: (id: string) => void;
}

export function useUnattachedResults(): UnattachedResults {
  const [state, setState] = useState<{ results: LooseResult[]; made: number }>({ results: [], made: 0 });
  const newest = useRef(state);
  const [kept, setKept] = useState(true);
  useEffect(() => {
    const stored = readStored(LOOSE_KEY) as typeof state | null;
    if (!Array.isArray(stored?.results)) return;
    newest.current = { results: stored.results, made: Number(stored.made) || 0 };
    setState(newest.current);
  }, []);
  const change = (work: (now: typeof state) => typeof state) => {
    newest.current = work(newest.current);
    setState(newest.current);
    try {
      localStorage.setItem(LOOSE_KEY, JSON.stringify(newest.current));
      setKept(true);
    } catch {
      setKept(false);
    }
  };
  return {
    ...state,
    kept,
    add: (made) =>
      change((now) => ({
        made: now.made + 1,
        results: [{ ...made, id: uuid(), at: new Date().toISOString() }, ...now.results],
      })),
    forget: (id) => change((now) => ({ ...now, results: now.results.filter((one) => one.id !== id) })),
  };
}
