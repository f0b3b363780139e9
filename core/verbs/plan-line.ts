import type { PlanInput } from "../dosing/plan/input";
import type { StepSetting } from "../dosing/plan/steps";
import type { RangeSet, Surface } from "../ranges/range-set";
import type { Place } from "../water/stand-ins";

/** A line as far as it is the same for one still water and for several calls. */
export interface PlanLine {
  input: PlanInput;
  setting: StepSetting;
  set: RangeSet;
  surface: Surface;
  place: Place;
  assumed: object;
}
