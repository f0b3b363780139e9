import type { Kit } from "../kit";
import { COMPARATOR_KIT } from "./comparator-kit";
import { INSTRUMENT_KIT } from "./instruments";
import { STRIP_KIT } from "./strip-kit";
import { TITRATION_KIT } from "./titration-kit";
import { TRACES_KIT } from "./traces-kit";

/** The cases that ship: a new firm begins with them, and one that is there is offered their newer editions. */
export const SHIPPED_KITS: readonly Kit[] = [
  TITRATION_KIT,
  COMPARATOR_KIT,
  STRIP_KIT,
  INSTRUMENT_KIT,
  TRACES_KIT,
];
