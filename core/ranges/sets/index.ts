import type { RangeSet } from "../range-set";
import { HELD_BY_HOCL_SET } from "./held-by-hocl";
import { OUTDOOR_FIXED_BAND } from "./outdoor-fixed-band";
import { PUBLIC_CODE_SET } from "./public-code";
import { SALT_CELL_SET } from "./salt-cell";
import { SPA_WARM_WATER } from "./spa-warm-water";

export { HELD_BY_HOCL_SET, OUTDOOR_FIXED_BAND, PUBLIC_CODE_SET, SALT_CELL_SET, SPA_WARM_WATER };

/** The schools that ship, by id. */
export const RANGE_SETS: Readonly<Record<string, RangeSet>> = Object.fromEntries(
  [OUTDOOR_FIXED_BAND, HELD_BY_HOCL_SET, PUBLIC_CODE_SET, SPA_WARM_WATER, SALT_CELL_SET].map((set) => [
    set.id,
    set,
  ]),
);
