import type { RangeSet } from "../range-set";

/** Basins whose chlorine is made in the water: no stabiliser comes along, pH climbs, scale harms the cell. */
export const SALT_CELL_SET: RangeSet = {
  id: "salt-cell",
  name: "Salt cell",
  date: "2026-01-01",
  purpose:
    "A cell makes chlorine all day, so less at a time is enough. More stabilizer protects it. Low alkalinity slows the rise of pH that a cell causes.",
  ranges: {
    // What kills well is held; closed under the Model Aquatic Health Code's 2 mg/L with stabiliser, 1 without.
    freeChlorine: {
      low: 0.02,
      high: 0.06,
      aim: 0.04,
      heldBy: "hypochlorous-acid",
      closeBelow: 2,
      closeAbove: 10,
      unstabilised: { closeBelow: 1 },
    },
    combinedChlorine: { high: 0.5 },
    ph: { low: 7.4, high: 7.8, aim: 7.6, closeBelow: 7, closeAbove: 8 },
    totalAlkalinity: { low: 60, high: 80, aim: 70 },
    calciumHardness: { low: 250, high: 400, aim: 325 },
    cyanuricAcid: { low: 60, high: 80, aim: 70 },
    // What most plates of cells ask for; the basin's own plate outranks it.
    salt: { low: 2700, high: 3400, aim: 3200 },
  },
  saturation: { low: -0.3, high: 0.3 },
};
