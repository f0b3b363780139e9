import type { Rgb } from "culori";
import type { Method, TitrationMethod } from "../testing/kit";
import { EQUIVALENT_WEIGHT } from "../testing/titration";
import {
  alkalinity,
  dpd,
  hardness,
  PATH,
  PINK_FOR_A_SCOOP,
  PINK_FOR_LIQUID,
  phenol,
  pinkOf,
  salt,
  totalYellow,
} from "./colour/looks";
import { lightThrough } from "./colour/spectrum";
import {
  dropSize,
  FADES,
  GAS_LOST,
  HAND_WARM,
  type HandEvent,
  type Light,
  type Mixing,
  SPREADS,
  TUBE_WARMTH,
} from "./hands";
import { type HiddenWater, phWith, SPECKS_FROM } from "./hidden";

/** A vessel at the practice bench: what hands did to it, and what it looks like. */
export interface Vessel {
  method: Method;
  water: HiddenWater;
  /** The line that it is filled to, mL. */
  line: number;
  /** What it truly holds of the sample, mL; 0 before it is filled. */
  millilitres: number;
  dilution: number;
  /** °C */
  temperature: number;
  /** By reagent, in the measure of the kit. */
  added: Readonly<Record<string, number>>;
  /** Share of what was added that is mixed in, 0…1. */
  mixed: number;
  mixing: readonly { how: Mixing; seconds: number; after: string | null }[];
  /** Titrant, as upright drops: spread through the sample, and still in its plume. */
  titrant: number;
  plume: number;
  /** Of it, what went in before the indicator. */
  ahead: number;
  /** Drops that fell. */
  fell: number;
  /** Seconds since the sample was poured, and of them in the sun. */
  age: number;
  sunned: number;
  light: Light;
  shaken: boolean;
  /** Of the viewing tube, 0…1. */
  level: number;
}

/** What a sample holds already where a test goes on in that of another. */
const GOES_ON: Readonly<Record<string, Readonly<Record<string, number>>>> = {
  "free-chlorine-fas-dpd": { "DPD powder": 2 },
  "ph-phenol-red": { "phenol red": 5 },
};

/**
 * An empty vessel, or for a test that goes on in the sample of another what that one left.
 * @example newVessel(alkalinity, hiddenWater("ordinary", 1), 25).titrant // 0
 */
export const newVessel = (method: Method, water: HiddenWater, line: number): Vessel => ({
  method,
  water,
  line,
  millilitres: method.continues ? line : 0,
  dilution: 1,
  temperature: water.temperature,
  added: method.continues ? (GOES_ON[method.continues] ?? {}) : {},
  mixed: 1,
  mixing: [],
  titrant: 0,
  plume: 0,
  ahead: 0,
  fell: 0,
  age: 0,
  sunned: 0,
  light: "white",
  shaken: false,
  level: 0,
});

/** Reagents after which a sample has its colour: titrant that goes in before counts as ahead of it. */
const INDICATORS = ["alkalinity indicator", "hardness indicator", "chromate indicator"];

/**
 * The vessel after time went by: a plume spreads, chlorine fades.
 * @example afterSeconds({ ...vessel, millilitres: 25 }, 10).age // 10
 */
export function afterSeconds(vessel: Vessel, seconds: number, swirled = false): Vessel {
  if (seconds <= 0) return vessel;
  const still = Math.exp(-seconds / (swirled ? SPREADS.swirled : SPREADS.still));
  const left = vessel.plume * still;
  const isPoured = vessel.millilitres > 0;
  return {
    ...vessel,
    titrant: vessel.titrant + vessel.plume - left,
    plume: left,
    mixed: 1 - (1 - vessel.mixed) * still,
    age: vessel.age + (isPoured ? seconds : 0),
    sunned: vessel.sunned + (isPoured && vessel.light === "sun" ? seconds : 0),
  };
}

/**
 * The vessel after one thing more was done to it.
 * @example afterHand(vessel, { kind: "drop", angle: 0, after: 1 }).fell // 1
 */
export function afterHand(before: Vessel, event: HandEvent): Vessel {
  const vessel = afterSeconds(before, event.after);
  switch (event.kind) {
    case "fill":
      return { ...vessel, millilitres: event.millilitres, age: 0, sunned: 0 };
    case "add":
      return {
        ...vessel,
        added: { ...vessel.added, [event.reagent]: (vessel.added[event.reagent] ?? 0) + event.amount },
        mixed: 0,
      };
    case "mix":
      return {
        ...afterSeconds(vessel, event.seconds, true),
        mixing: [
          ...vessel.mixing,
          { how: event.how, seconds: event.seconds, after: Object.keys(vessel.added).at(-1) ?? null },
        ],
        shaken: vessel.shaken || event.how === "shake",
      };
    case "drop": {
      const size = dropSize(event.angle);
      const isAhead = !INDICATORS.some((name) => (vessel.added[name] ?? 0) > 0);
      return {
        ...vessel,
        plume: vessel.plume + size,
        ahead: vessel.ahead + (isAhead ? size : 0),
        fell: vessel.fell + 1,
      };
    }
    case "light":
      return { ...vessel, light: event.light };
    case "dilute":
      return { ...vessel, dilution: vessel.dilution * event.times };
    case "warm":
      return { ...vessel, temperature: Math.max(vessel.temperature, HAND_WARM) };
    case "tube":
      return { ...vessel, level: Math.min(1, Math.max(0, event.level)) };
  }
}

/** What one upright drop takes of what is titrated in this sample, in the unit of the test. */
export function worthOf(vessel: Vessel): number {
  const { method, line, millilitres } = vessel;
  if (method.kind !== "titration" || millilitres <= 0) return 0;
  return (factorAt(method, line) * line) / millilitres;
}

const factorAt = ({ samples }: TitrationMethod, line: number): number =>
  samples.find(({ millilitres }) => millilitres === line)?.factor ?? samples[0]?.factor ?? 1;

/** Chlorine that is left in the open sample, mg/L; `all` with what is combined, and what reads as such. */
export function chlorineIn(
  { water, dilution, age, sunned }: Vessel,
  which: "free" | "combined" | "all",
): number {
  const { freeChlorine, combinedChlorine, persulfate } = water;
  const parts = { free: freeChlorine, combined: combinedChlorine + persulfate };
  const amount = which === "all" ? parts.free + parts.combined : parts[which];
  const lost = (FADES.shade * (age - sunned) + FADES.sun * sunned) / 60;
  return (amount / dilution) * Math.exp(-lost);
}

/** What a sample looks like. */
export interface VesselLook {
  /** Of what is mixed. */
  colour: Rgb;
  /** Of the last drop's cloud, and how much of it there is still. */
  plume: Rgb;
  plumeShare: number;
  /** Violet specks of magnesium, 0…1. */
  specks: number;
  /** Turbidity: how well the dot at the bottom is seen, 1 clear … 0 gone. */
  dot: number;
}

const CLEAR = lightThrough([]);
/** A dot is gone for an eye when so much of its contrast is left. */
export const DOT_GONE = 0.02;

/**
 * What the vessel looks like now.
 * @example lookOf(vessel).dot // 1
 */
export function lookOf(vessel: Vessel): VesselLook {
  const { titrant, plume } = vessel;
  const colour = colourAt(vessel, titrant);
  return {
    colour,
    // A drop colours its plume as if the whole sample had far more of it.
    plume: plume > 0.02 ? colourAt(vessel, titrant + 3 * plume + 1) : colour,
    plumeShare: Math.min(1, plume),
    specks: specksIn(vessel),
    dot: dotIn(vessel),
  };
}

function colourAt(vessel: Vessel, drops: number): Rgb {
  const { method, water, millilitres, mixed, added, dilution } = vessel;
  if (millilitres <= 0) return CLEAR;
  const given = (reagent: string) => (added[reagent] ?? 0) * mixed;
  const taken = drops * worthOf(vessel);
  switch (method.quantity) {
    case "freeChlorine":
    case "bromine": {
      const scoops = given("DPD powder");
      if (scoops <= 0) return CLEAR;
      const pink = pinkOf(chlorineIn(vessel, "free"), (scoops * PINK_FOR_A_SCOOP * 25) / millilitres);
      return dpd(Math.max(0, pink - taken), PATH.vessel);
    }
    case "combinedChlorine": {
      const iodide = Math.min(1, given("potassium iodide") / 5);
      return dpd(Math.max(0, chlorineIn(vessel, "combined") * iodide - taken), PATH.vessel);
    }
    case "totalChlorine": {
      const yellow = Math.min(1, given("OTO reagent") / 5);
      if (yellow > 0) return totalYellow(chlorineIn(vessel, "all") * yellow, PATH.cell);
      const liquid = Math.min(given("DPD liquid 1"), given("DPD liquid 2")) / 5;
      if (liquid <= 0) return CLEAR;
      // The third reagent brings out what is combined within two minutes.
      const third = Math.min(1, given("DPD liquid 3") / 5);
      const out = third * (1 - Math.exp(-vessel.age / 40));
      const chlorine = chlorineIn(vessel, "free") + chlorineIn(vessel, "combined") * out;
      return dpd(pinkOf(chlorine, PINK_FOR_LIQUID * liquid), PATH.cell);
    }
    case "ph":
    case "acidDemand":
    case "baseDemand": {
      const amount = given("phenol red") / 5;
      return amount <= 0
        ? CLEAR
        : phenol({
            ph: water.ph + gasLost(vessel),
            chlorine: chlorineIn(vessel, "free"),
            temperature: vessel.temperature,
            solids: water.totalDissolvedSolids,
            amount,
          });
    }
    case "totalAlkalinity": {
      const amount = given("alkalinity indicator") / 5;
      if (amount <= 0) return CLEAR;
      const acid = (taken * dilution) / EQUIVALENT_WEIGHT.calciumCarbonate;
      return alkalinity(phWith(water, acid), bleachedIn(vessel));
    }
    case "calciumHardness": {
      if (given("hardness indicator") <= 0) return CLEAR;
      const left = Math.max(0, water.calciumHardness / dilution - taken);
      // Without its buffer the titrant does not take hold.
      const buffered = Math.min(1, (given("calcium buffer") / (millilitres >= 20 ? 20 : 10)) * 1.4);
      return hardness(buffered / (1 + left / LETS_GO_AT), copperIn(vessel));
    }
    case "salt":
      return given("chromate indicator") <= 0
        ? CLEAR
        : salt(Math.min(1, Math.max(0, (taken - water.salt / dilution) / BRICK_WITHIN)));
    default:
      return CLEAR;
  }
}

/** Calcium at which half of the indicator is free, mg/L as CaCO3: blue comes with the last drop, sluggishly. */
const LETS_GO_AT = 1.2;
/** Salt over the end that makes all of it brick red, mg/L. */
const BRICK_WITHIN = 120;

/** Methyl red that chlorine has bleached: a drop of thiosulfate takes ten mg/L of it. */
export const bleachedIn = (vessel: Vessel): number =>
  Math.min(1, Math.max(0, chlorineIn(vessel, "free") - 10 * (vessel.added.thiosulfate ?? 0)) / 1.5);

/** Copper that holds the indicator for good; titrant ahead of the indicator takes it first. */
export const copperIn = ({ water, ahead, dilution }: Vessel): number =>
  ahead >= 2 ? 0 : Math.min(0.85, water.copper / dilution / 0.4);

const specksIn = ({ method, water, added }: Vessel): number =>
  method.quantity === "calciumHardness" && (added["calcium buffer"] ?? 0) > 0
    ? Math.min(1, Math.max(0, water.magnesium - SPECKS_FROM) / 80)
    : 0;

/** pH that the sample gained by losing carbon dioxide. */
const gasLost = ({ age, shaken }: Vessel): number =>
  (GAS_LOST.standing * age) / 60 + (shaken ? GAS_LOST.shaken : 0);

/** Stabiliser as the tube shows it: cold reads high, and what is not shaken out reads low. mg/L */
export function clouded({ water, dilution, temperature, mixing, added }: Vessel): number {
  const shaken = mixing.reduce((sum, { how, seconds }) => (how === "shake" ? sum + seconds : sum), 0);
  const developed = 1 - Math.exp(-shaken / 7);
  const cold = Math.max(0, TUBE_WARMTH.low - temperature) * TUBE_WARMTH.perDegree;
  const reagent = Math.min(1, (added["melamine reagent"] ?? 0) / 7);
  return (water.cyanuricAcid / dilution) * (1 + cold) * developed * reagent;
}

/** The lowest line of the tube stands at its top: cloud times depth is the same at every line. mg/L */
const TOP_LINE = 30;

/** How high the tube is filled when the dot is gone, 0…1; over 1 it never goes. @example dotGoneAt(60) // 0.5 */
export const dotGoneAt = (cyanuricAcid: number): number =>
  cyanuricAcid <= 0 ? Number.POSITIVE_INFINITY : TOP_LINE / cyanuricAcid;

/** The line of the tube at a height, mg/L. @example lineAt(0.5) // 60 */
export const lineAt = (level: number): number => (level <= 0 ? Number.POSITIVE_INFINITY : TOP_LINE / level);

const dotIn = (vessel: Vessel): number =>
  vessel.method.kind === "turbidity" && vessel.level > 0
    ? Math.exp((Math.log(DOT_GONE) * vessel.level) / dotGoneAt(clouded(vessel)))
    : 1;

/**
 * The colour of a comparator's standard, as it stands beside the sample: made at 25 °C, of a usual water.
 * @example standardColour(phenolRed, 7.4).mode // "rgb"
 */
export function standardColour(method: Method, mark: number): Rgb {
  switch (method.quantity) {
    case "ph":
      return phenol({ ph: mark, chlorine: 0, temperature: 25, solids: 1000 });
    case "totalChlorine":
      return method.steps.some(({ reagent }) => reagent === "OTO reagent")
        ? totalYellow(mark, PATH.cell)
        : dpd(mark, PATH.cell);
    case "bromine":
      return dpd(mark / 2.25, PATH.cell);
    default:
      return dpd(mark, PATH.cell);
  }
}

/** Drops of titrant, as upright ones, after which the colour has changed; what hands did to the sample included. @example endOf(vessel) // 0 */
export function endOf(vessel: Vessel): number {
  const { method, water, dilution, added, millilitres } = vessel;
  const worth = worthOf(vessel);
  if (worth <= 0) return 0;
  const scoops = added["DPD powder"] ?? 0;
  switch (method.quantity) {
    case "freeChlorine":
    case "bromine":
      return pinkOf(chlorineIn(vessel, "free"), (scoops * PINK_FOR_A_SCOOP * 25) / millilitres) / worth;
    case "combinedChlorine":
      return chlorineIn(vessel, "combined") / worth;
    case "totalAlkalinity":
      return water.totalAlkalinity / dilution / worth;
    case "calciumHardness":
      return water.calciumHardness / dilution / worth;
    case "salt":
      return water.salt / dilution / worth;
    default:
      return 0;
  }
}

/** What a faultless test would read of this water, in the unit of the test; of what is combined, without persulfate. */
export function truthOf({ quantity }: Pick<Method, "quantity">, water: HiddenWater): number {
  switch (quantity) {
    case "combinedChlorine":
      return water.combinedChlorine;
    case "totalChlorine":
      return water.freeChlorine + water.combinedChlorine;
    case "salt":
      return water.salt;
    case "bromine":
      return 2.25 * water.freeChlorine;
    case "ph":
    case "freeChlorine":
    case "totalAlkalinity":
    case "calciumHardness":
    case "cyanuricAcid":
    case "temperature":
    case "totalDissolvedSolids":
      return water[quantity];
    default:
      return Number.NaN;
  }
}
