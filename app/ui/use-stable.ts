import { useCallback, useRef } from "react";

/** The same function on every render, which does what the newest one does: for parts that are not to render again. */
export function useStable<A extends unknown[], R>(work: (...args: A) => R): (...args: A) => R {
  const newest = useRef(work);
  newest.current = work;
  return useCallback((...args: A) => newest.current(...args), []);
}
