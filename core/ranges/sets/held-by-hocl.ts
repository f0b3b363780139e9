import type { Range, RangeSet } from "../range-set";

const masonry: Range = { low: 250, high: 400, aim: 325 };
const lined: Range = { low: 50, high: 300, aim: 175 };

/** Not free chlorine but the acid that kills is held; the free chlorine that gives it follows from the water. */
export const HELD_BY_HOCL_SET: RangeSet = {
  id: "held-by-hocl",
  name: "Held by hypochlorous acid",
  date: "2026-01-01",
  purpose:
    "With stabilizer, most free chlorine is held in reserve. This set holds hypochlorous acid at 0.03 to 0.08 mg/L. It works out the free chlorine for this pH, stabilizer and temperature.",
  ranges: {
    // What kills well is held; closed under the Model Aquatic Health Code's 2 mg/L with stabiliser, 1 without.
    freeChlorine: {
      low: 0.03,
      high: 0.08,
      aim: 0.05,
      heldBy: "hypochlorous-acid",
      closeBelow: 2,
      closeAbove: 10,
      unstabilised: { closeBelow: 1 },
    },
    combinedChlorine: { high: 0.5 },
    ph: { low: 7.2, high: 7.8, aim: 7.5, closeBelow: 7, closeAbove: 8 },
    totalAlkalinity: { low: 60, high: 90, aim: 75 },
    calciumHardness: lined,
    cyanuricAcid: { low: 30, high: 50, aim: 40 },
  },
  bySurface: {
    plaster: { calciumHardness: masonry },
    concrete: { calciumHardness: masonry },
    tile: { calciumHardness: masonry },
  },
  saturation: { low: -0.3, high: 0.3 },
};
