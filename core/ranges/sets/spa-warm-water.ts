import type { RangeSet } from "../range-set";

/** Spas and warm basins: more sanitiser, a narrower pH, little or no stabiliser. */
export const SPA_WARM_WATER: RangeSet = {
  id: "spa-warm-water",
  name: "Spa and warm water",
  date: "2026-01-01",
  purpose: "Small hot basins with many bathers: more sanitizer, narrow pH, little stabilizer.",
  ranges: {
    // Closed under the Model Aquatic Health Code's 3 mg/L for spas; low half a point sooner, a drop of a 10 mL sample.
    freeChlorine: { low: 3.5, high: 5, aim: 4, closeBelow: 3, closeAbove: 10 },
    combinedChlorine: { high: 0.5 },
    ph: { low: 7.4, high: 7.8, aim: 7.6, closeBelow: 7, closeAbove: 8 },
    totalAlkalinity: { low: 80, high: 120, aim: 100 },
    calciumHardness: { low: 150, high: 250, aim: 200 },
    cyanuricAcid: { high: 30 },
  },
  saturation: { low: -0.3, high: 0.5 },
};
