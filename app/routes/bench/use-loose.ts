import { useEffect, useState } from "react";
import { v7 as uuid } from "uuid";
import type { Measurement, Method, Observation } from "#core";
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

export interface Loose {
  results: LooseResult[];
  /** How many were ever made here: names the next count. */
  made: number;
  add: (made: Omit<LooseResult, "id" | "at">) => void;
  forget: (id: string) => void;
}

const KEY = "pelagon.loose";
const MOST = 40;

export function useLoose(): Loose {
  const [kept, setKept] = useState<{ results: LooseResult[]; made: number }>({ results: [], made: 0 });
  useEffect(() => {
    const stored = readStored(KEY) as typeof kept | null;
    if (Array.isArray(stored?.results)) setKept({ results: stored.results, made: Number(stored.made) || 0 });
  }, []);
  const change = (work: (now: typeof kept) => typeof kept) =>
    setKept((now) => {
      const next = work(now);
      try {
        localStorage.setItem(KEY, JSON.stringify(next));
      } catch {
        // Storage may be full or forbidden; the results then last as long as the page.
      }
      return next;
    });
  return {
    ...kept,
    add: (made) =>
      change((now) => ({
        made: now.made + 1,
        results: [{ ...made, id: uuid(), at: new Date().toISOString() }, ...now.results].slice(0, MOST),
      })),
    forget: (id) => change((now) => ({ ...now, results: now.results.filter((one) => one.id !== id) })),
  };
}
