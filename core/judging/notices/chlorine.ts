import { InputFault } from "../../fault";
import type { RangeSet } from "../../ranges/range-set";
import { chlorineShares, FIXED_BAND, freeChlorineFor, HELD_BY_HOCL } from "../../water/chlorine";
import type { Sample } from "../../water/sample";
import type { Notice } from "./notice";

/**
 * Free chlorine against stabiliser. A set that holds the acid says so itself in its finding; a set with
 * a fixed band is told what its band comes to in this water.
 */
export function chlorineAgainstStabiliser(water: Sample, set: RangeSet, saltCell: boolean): Notice[] {
  const band = set.ranges.freeChlorine;
  if (band?.heldBy === "hypochlorous-acid" || water.cyanuricAcid <= 0) return [];
  const floor = saltCell ? HELD_BY_HOCL.saltCellFloor : HELD_BY_HOCL.floor;
  try {
    const notices: Notice[] = [];
    const needed = freeChlorineFor(floor, water);
    const { hypochlorousAcid } = chlorineShares(water);
    const inBand = band?.low === undefined || water.freeChlorine >= band.low;
    // Below its band it is a finding already.
    if (inBand && hypochlorousAcid < floor)
      notices.push({
        code: "chlorine.weak",
        hypochlorousAcid,
        floor,
        freeChlorine: water.freeChlorine,
        needed,
      });
    if (water.cyanuricAcid > FIXED_BAND.wastefulAbove)
      notices.push({
        code: "chlorine.overstabilised",
        cyanuricAcid: water.cyanuricAcid,
        limit: FIXED_BAND.wastefulAbove,
        needed,
      });
    return notices;
  } catch (fault) {
    // Readings that make no water are told where they are judged together.
    if (fault instanceof InputFault) return [];
    throw fault;
  }
}
