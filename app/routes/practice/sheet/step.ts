import type { HiddenWater, Score, SheetBasin } from "#core";
import type { SheetTest, SheetUnderWay } from "../kept";

/** A test of the sheet with its score: nothing of it is told before the sheet is over. */
export interface Scored {
  test: SheetTest;
  score: Score;
}

/** What every step of a sheet works on. */
export interface SheetStep {
  sheet: SheetUnderWay;
  water: HiddenWater;
  basin: SheetBasin;
  scored: readonly Scored[];
  change: (part: Partial<SheetUnderWay>) => void;
}
