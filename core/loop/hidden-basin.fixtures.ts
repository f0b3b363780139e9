import type { Between } from "../dosing/horizon/problem";
import { effectPerGram, type ProductId } from "../products/products";
import { normal, type Random, seeded } from "../random";
import type { RangeSet, Surface } from "../ranges/range-set";
import { OUTDOOR_FIXED_BAND, SALT_CELL_SET, SPA_WARM_WATER } from "../ranges/sets";
import { readingsOf } from "../water/equilibrium";
import { type Sample, type Totals, totalsOf } from "../water/sample";

/**
 * Basins whose water is hidden from whoever plans: what they lose and gain by themselves, what they truly hold,
 * what is truly in their bottles. Times are ms since 1970.
 */

export interface HiddenBasin {
  id: string;
  kind: "pool" | "spa";
  outdoors: boolean;
  feeder: "none" | "tablets" | "saltCell" | "pump";
  set: RangeSet;
  surface: Surface;
  /** By the book, and what it truly holds over that. */
  litres: number;
  factor: number;
  /** What stands in it now. */
  water: Totals;
  fill: Totals;
  fillReadings: Sample;
  /** What the feeder's setting is meant to give, mg/L of chlorine a day, and what comes over that. */
  setting: number;
  feederWorth: number;
  /** It stands still until then. */
  outageUntil: number;
  /** When it was last filled. */
  filledAt: number;
  /** Days between one call and the next, over and over. */
  rhythm: readonly number[];
  minutes: number;
  own: Own;
  /** What the people there give between the calls, and when they are to; nothing where nobody asked them to. */
  between: Between | null;
  theirs: number[];
  /** Stabiliser that is kept whatever the set says, mg/L. */
  stabiliser: number | null;
  /** Calls so far. */
  calls: number;
  /** Somebody follows what would hold it. */
  isHeld: boolean;
}

/** What a basin does by itself; what each number means is its physics' own. */
export interface Own {
  dark: number;
  unbound: number;
  bound: number;
  gas: number;
  evaporation: number;
  splash: number;
  /** Scatter of the bathers from day to day, as the deviation of a logarithm. */
  bathers: number;
  /** Somebody pours without writing it down: mg/L, every so many days; 0 where nobody does. */
  helper: number;
}

/** What the sky and the people do on a day. */
export interface Day {
  /** Mean of the air, °C. */
  air: number;
  /** Share of a clear day's sun. */
  clear: number;
  wind: number;
  /** Share of a pool's depth. */
  rain: number;
  /** Over the usual, weekends and all. */
  bathing: number;
}

export const FIRST_DAY = Date.UTC(2026, 3, 6);

export function hiddenBasin(index: number, random: Random): HiddenBasin {
  const between = (low: number, high: number) => low + (high - low) * random();
  const logNormal = (median: number, deviation: number) => median * Math.exp(deviation * normal(random));
  const spa = index % 8 === 3;
  const outdoors = index % 9 !== 8;
  const feeder = spa
    ? "none"
    : (["none", "saltCell", "none", "tablets", "pump", "none"] as const)[(index + (index >> 3)) % 6];
  const kind = spa ? "spa" : "pool";
  const wrong = random() < 0.25;
  const factor = wrong
    ? random() < 0.5
      ? between(0.75, 0.87)
      : between(1.15, 1.3)
    : Math.exp(0.02 * normal(random));
  const fillReadings: Sample = {
    ph: between(7.3, 7.9),
    totalAlkalinity: between(50, 150),
    calciumHardness: between(40, 240),
    cyanuricAcid: 0,
    freeChlorine: 0,
    borate: 0,
    temperature: 15,
    totalDissolvedSolids: 300,
  };
  const cell = feeder === "saltCell";
  const start: Sample = {
    ph: between(7.3, 8),
    totalAlkalinity: between(65, 140),
    calciumHardness: spa ? between(120, 240) : between(190, 380),
    cyanuricAcid: spa || !outdoors ? 0 : cell ? between(50, 80) : between(20, 65),
    freeChlorine: between(1, 4),
    borate: 0,
    temperature: spa ? 38 : 24,
    totalDissolvedSolids: cell ? 3600 : 1100,
  };
  const litres = (spa ? between(900, 3000) : between(25_000, 110_000)) / factor;
  return {
    id: `basin-${index}`,
    kind,
    outdoors,
    feeder: feeder ?? "none",
    set: spa ? SPA_WARM_WATER : cell ? SALT_CELL_SET : OUTDOOR_FIXED_BAND,
    surface: spa ? "acrylic" : ((["plaster", "vinyl", "fibreglass"] as const)[index % 3] ?? "vinyl"),
    litres,
    factor,
    water: totalsOf(start),
    fill: totalsOf(fillReadings),
    fillReadings,
    setting: feeder && feeder !== "none" ? between(0.5, 1.3) : 0,
    feederWorth: logNormal(1, 0.25),
    outageUntil: 0,
    filledAt: FIRST_DAY,
    rhythm: spa ? [2, 2, 3] : (([[7], [3, 4], [7]] as const)[index % 3] as readonly number[]),
    minutes: index % 4 === 3 ? 60 : 40,
    own: {
      dark: spa ? between(0.15, 0.6) : between(0.03, 0.12),
      unbound: outdoors ? (spa ? 1.5 : between(3, 7)) : 0,
      bound: outdoors ? (spa ? 0.08 : between(0.05, 0.18)) : 0,
      gas: logNormal(spa ? 0.7 : 0.3, 0.5),
      evaporation: logNormal(spa ? 0.006 : 0.0026, 0.4),
      splash: logNormal(spa ? 0.007 : 0.003, 0.5),
      bathers: between(0.2, 0.45),
      helper: 0,
    },
    between: null,
    theirs: [],
    stabiliser: null,
    calls: 0,
    isHeld: false,
  };
}

/** Puts a product in. @param worth of what is in the bottle over its label */
export function pour(
  { water, litres, factor }: HiddenBasin,
  product: ProductId,
  strength: number,
  grams: number,
  worth: number,
): void {
  const effect = effectPerGram({ product, strength });
  const share = (grams * worth) / (litres * factor);
  for (const name of ["alkalinity", "inorganicCarbon", "calcium", "cyanurate", "chlorine"] as const)
    water[name] += effect[name] * share;
  water.inorganicCarbon = Math.max(1e-5, water.inorganicCarbon);
  water.totalDissolvedSolids += effect.dissolved * share * 1000;
}

/** Air, sun, wind, rain and people, day by day. */
export function daysOf(seed: number, count: number): Omit<Day, "bathing">[] {
  const random = seeded(seed * 104_729 + 3);
  let front = 0;
  return Array.from({ length: count }, (_, day) => {
    front = 0.7 * front + 0.7 * normal(random);
    return {
      air: 19 + 6 * Math.sin(((day - 20) / 365) * 2 * Math.PI) + 2 * front,
      clear: Math.min(1, Math.max(0.1, 0.72 + 0.16 * front)),
      wind: Math.exp(0.35 * normal(random)),
      rain: front < -0.8 && random() < 0.5 ? 0.015 * random() : 0,
    };
  });
}

/** What stands in a basin, as an oracle reads it. */
export const truthOf = ({ water }: HiddenBasin): Sample => readingsOf(water);
