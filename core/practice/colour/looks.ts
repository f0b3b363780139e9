import type { Rgb } from "culori";
import {
  CHLORINATED_PURPLE,
  CHROMATE_BRICK,
  CHROMATE_YELLOW,
  DPD_PINK,
  GREEN_BLUE,
  GREEN_YELLOW,
  HARDNESS_BLUE,
  HARDNESS_COPPER,
  HARDNESS_RED,
  METHYL_RED,
  METHYL_YELLOW,
  PHENOL_RED,
  PHENOL_YELLOW,
  TOTAL_YELLOW,
} from "./dyes";
import { lightThrough, together } from "./spectrum";

/** What each test looks like at each moment of it. */

/** Light goes through so much of a vessel, of a small comparator's cell and of one for 44 mL on its way to the eye. cm */
export const PATH = { vessel: 2.6, cell: 1.8, block: 2.6 } as const;

/** Chlorine that a level scoop of powder in 25 mL makes pink of; beyond it the pink is bleached again. mg/L */
export const PINK_FOR_A_SCOOP = 7.5;
/** And five drops of liquid in a cell. mg/L */
export const PINK_FOR_LIQUID = 5;
/** Of what is beyond, each mg/L takes the colour of so many. */
const BLEACHES = 1;

/**
 * Chlorine that is seen as pink: in proportion as far as the DPD goes, and bleached beyond.
 * @param chlorine mg/L
 * @param capacity mg/L that the DPD makes pink of
 * @example pinkOf(4, 5) // 4
 */
export const pinkOf = (chlorine: number, capacity: number): number =>
  Math.max(0, chlorine <= capacity ? chlorine : capacity - BLEACHES * (chlorine - capacity));

/** @param pink mg/L as chlorine, see `pinkOf` @param path cm @example dpd(2, 1).g < dpd(1, 1).g // true */
export const dpd = (pink: number, path: number): Rgb => lightThrough(together([[DPD_PINK, pink * path]]));

/** @param chlorine mg/L @param path cm @example totalYellow(2, 1).b < totalYellow(1, 1).b // true */
export const totalYellow = (chlorine: number, path: number): Rgb =>
  lightThrough(together([[TOTAL_YELLOW, chlorine * path]]));

/**
 * pK of phenol red in fresh water: 5.798 + 666.7/T without salt (Yao and Byrne 2001), less 1.53 times the
 * Davies term for its second step, R⁻ to R²⁻. At 25 °C and 1000 mg/L of solids it is 7.86.
 * @param temperature °C
 * @param solids dissolved, mg/L
 * @example phenolPk(25, 0) // 8.03
 */
export function phenolPk(temperature: number, solids: number): number {
  // Ionic strength of a usual water, as for the constants of the balance.
  const strength = 2.5e-5 * solids;
  const root = Math.sqrt(strength);
  const davies = root / (1 + root) - 0.3 * strength;
  return 5.798 + 666.7 / (temperature + 273.15) - 3 * 0.509 * davies;
}

/** Phenol red in the cell: 1.8five drops of a 0.1 % solution in 44 mL. µmol/L */
const PHENOL_AMOUNT = 17;
/** From here on chlorine makes another dye of phenol red, and from there on all of it. mg/L */
export const PURPLE_FROM = 10;
const PURPLE_WHOLE = 15;

export interface PhenolLook {
  ph: number;
  /** mg/L */
  chlorine: number;
  /** °C */
  temperature: number;
  /** mg/L */
  solids: number;
  /** Drops of indicator over those that belong in. */
  amount?: number;
}

/**
 * The pH sample in its cell.
 * @example phenol({ ph: 6.8, chlorine: 0, temperature: 25, solids: 1000 }).b < 0.5 // true
 */
export function phenol({ ph, chlorine, temperature, solids, amount = 1 }: PhenolLook): Rgb {
  const dye = PHENOL_AMOUNT * amount * PATH.block;
  const purple = Math.min(1, Math.max(0, (chlorine - PURPLE_FROM) / (PURPLE_WHOLE - PURPLE_FROM)));
  const base = 1 / (1 + 10 ** (phenolPk(temperature, solids) - ph));
  return lightThrough(
    together([
      [PHENOL_YELLOW, dye * (1 - base) * (1 - purple)],
      [PHENOL_RED, dye * base * (1 - purple)],
      [CHLORINATED_PURPLE, dye * purple],
    ]),
  );
}

/** pK of the two dyes of the alkalinity indicator. */
const GREEN_PK = 4.7;
const METHYL_PK = 5.0;
/** Each of them in 25 mL with five drops. µmol/L */
const ALKALINITY_AMOUNT = { green: 14, methyl: 22 } as const;

/**
 * The alkalinity sample: green, and red from the end on. Chlorine that no thiosulfate took bleaches the
 * methyl red: blue, and yellow from the end on.
 * @param bleached share of the methyl red that is gone
 * @example alkalinity(8, 0).g > alkalinity(8, 0).r // true
 */
export function alkalinity(ph: number, bleached: number): Rgb {
  const share = (pk: number) => 1 / (1 + 10 ** (pk - ph));
  const [green, methyl] = [share(GREEN_PK), share(METHYL_PK)];
  const left = 1 - bleached;
  const path = PATH.vessel;
  return lightThrough(
    together([
      [GREEN_BLUE, ALKALINITY_AMOUNT.green * green * path],
      [GREEN_YELLOW, ALKALINITY_AMOUNT.green * (1 - green) * path],
      [METHYL_YELLOW, ALKALINITY_AMOUNT.methyl * methyl * left * path],
      [METHYL_RED, ALKALINITY_AMOUNT.methyl * (1 - methyl) * left * path],
    ]),
  );
}

/** Of its indicator, with five drops in 25 mL. Matched by eye. */
const HARDNESS_AMOUNT = 1.2;

/**
 * The hardness sample: red-violet while calcium holds the indicator, blue when it lets go.
 * @param free share of the indicator that no calcium holds
 * @param copper share that copper holds for good
 * @example hardness(1, 0).b > hardness(1, 0).r // true
 */
export const hardness = (free: number, copper: number): Rgb =>
  lightThrough(
    together([
      [HARDNESS_RED, (1 - free) * (1 - copper) * HARDNESS_AMOUNT * PATH.vessel],
      [HARDNESS_BLUE, free * (1 - copper) * HARDNESS_AMOUNT * PATH.vessel],
      [HARDNESS_COPPER, copper * HARDNESS_AMOUNT * PATH.vessel],
    ]),
  );

/** The salt sample: yellow, and brick red from the end on. @example salt(0).b < salt(0).r // true */
export const salt = (brick: number): Rgb =>
  lightThrough(
    together([
      [CHROMATE_YELLOW, (1 - brick) * PATH.vessel],
      [CHROMATE_BRICK, brick * PATH.vessel],
    ]),
  );
