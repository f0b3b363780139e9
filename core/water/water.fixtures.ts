import fc from "fast-check";
import { type Sample, totalsOf } from "./sample";

/** A usual pool, for tests to bend. */
export const POOL_WATER: Sample = {
  ph: 7.5,
  totalAlkalinity: 100,
  calciumHardness: 300,
  cyanuricAcid: 0,
  freeChlorine: 3,
  borate: 0,
  temperature: 25,
  totalDissolvedSolids: 1000,
};

const between = (min: number, max: number) => fc.double({ min, max, noNaN: true, noDefaultInfinity: true });

/** Any water that a pool, spa or plunge has been found to hold. */
export const anyWater = fc
  .record({
    ph: between(6.5, 8.8),
    totalAlkalinity: between(20, 400),
    calciumHardness: between(0, 1500),
    cyanuricAcid: between(0, 250),
    freeChlorine: between(0, 40),
    borate: between(0, 60),
    temperature: between(0, 45),
    totalDissolvedSolids: between(50, 38_000),
  })
  .filter((sample) => {
    try {
      totalsOf(sample);
      return true;
    } catch {
      return false; // less alkalinity than its cyanurate and borate hold
    }
  });
