import { createContext, use } from "react";
import type { Judgement, OpenedVisit, VisitSoFar } from "#core";
import { words } from "../../words";

/** A visit as its stops show it: worked out once from what was brought and what is written. */
export interface ShownVisit extends OpenedVisit, Judgement {
  soFar: VisitSoFar;
  /** What a finished visit's doses cost; null while it is under way, or where nobody can say. */
  cost: number | null;
  now: Date;
}

export const VisitContext = createContext<ShownVisit | null>(null);

/** The visit that this stop belongs to. */
export function useVisit(): ShownVisit {
  const shown = use(VisitContext);
  if (!shown) throw new Error("useVisit is for the stops of a visit");
  return shown;
}

/** Where it goes when the water is done with: to what else is due here, else to the close. */
export function useLastStops(): { to: "work" | "close"; text: string } {
  const { soFar } = useVisit();
  return soFar.workLeft
    ? { to: "work", text: words.chores.toWork }
    : { to: "close", text: words.visit.toClose };
}
