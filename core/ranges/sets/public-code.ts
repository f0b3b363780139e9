import type { RangeSet } from "../range-set";

/** Public basins: floors and ceilings that close. A local code outranks it. */
export const PUBLIC_CODE_SET: RangeSet = {
  id: "public-code",
  name: "Public pool code",
  date: "2026-01-01",
  purpose:
    "A floor and a ceiling that close the basin, for pools open to the public. Local code and the health authority outrank it.",
  ranges: {
    freeChlorine: {
      low: 2,
      high: 5,
      aim: 3,
      closeBelow: 2,
      closeAbove: 10,
      unstabilised: { low: 1, closeBelow: 1 },
    },
    combinedChlorine: { high: 0.4 },
    ph: { low: 7.2, high: 7.8, aim: 7.5, closeBelow: 7, closeAbove: 8 },
    totalAlkalinity: { low: 60, high: 180, aim: 100 },
    calciumHardness: { low: 150, high: 1000, aim: 300 },
    // 90 is the most to run by; state codes that have a figure close over 100.
    cyanuricAcid: { high: 90, closeAbove: 100 },
  },
  saturation: { low: -0.3, high: 0.5 },
};
