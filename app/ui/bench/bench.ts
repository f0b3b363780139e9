import type { ReactNode } from "react";
import type { Method, Observation, Range } from "#core";

/** What a station hands to the sheet on which one test is made. */
export interface BenchProps<M extends Method> {
  method: M;
  busy: boolean;
  save: (seen: Observation) => void;
  /** What to mind while it is prepared. */
  mind: ReactNode;
  /** Hears what is on the sheet now, to say what speaks against it. */
  watch?: (seen: Observation | null) => void;
  /** What was seen when it was saved before. */
  saved: Observation | null;
  /** The last reading and its range, for the sample size and the expected end. */
  last: number | null;
  range: Range | undefined;
  /** pH of the standard that demand drops are matched to; left out for what is no demand test. */
  target?: number | null;
  /** Hears of each drop that is counted: at the practice bench the hands let it fall. */
  dropped?: () => void;
  /** Hears of a new sample, with its size: the one before is poured out. */
  anew?: (millilitres: number) => void;
}
