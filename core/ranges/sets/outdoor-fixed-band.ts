import type { Range, RangeSet } from "../range-set";

const masonry: Range = { low: 200, high: 400, aim: 300 };
const lined: Range = { low: 150, high: 300, aim: 225 };

/** Outdoor pool, free chlorine held in a fixed band whatever the stabiliser. */
export const OUTDOOR_FIXED_BAND: RangeSet = {
  id: "outdoor-fixed-band",
  name: "Outdoor pool, fixed band",
  date: "2026-01-01",
  purpose: "Free chlorine in one range at any stabilizer level, for outdoor pools with regular service.",
  ranges: {
    freeChlorine: { low: 1, high: 4, aim: 3, closeBelow: 1, closeAbove: 10 },
    combinedChlorine: { high: 0.5 },
    ph: { low: 7.2, high: 7.8, aim: 7.5, closeBelow: 7, closeAbove: 8 },
    totalAlkalinity: { low: 80, high: 120, aim: 100 },
    calciumHardness: lined,
    cyanuricAcid: { low: 30, high: 50, aim: 40 },
  },
  bySurface: {
    plaster: { calciumHardness: masonry },
    concrete: { calciumHardness: masonry },
    tile: { calciumHardness: masonry },
  },
  saturation: { low: -0.3, high: 0.5 },
};
