import { convert } from "convert";
import { numberWithin } from "../fault";

/** Plain unit conversion at the edge; inside, everything is litres, grams and °C. */
export type VolumeUnit = "L" | "m3" | "us-gal" | "imp-gal";
export type MassUnit = "g" | "kg" | "oz" | "lb";
export type TemperatureUnit = "C" | "F";

const NAMES = {
  L: "litre",
  m3: "cubic metre",
  "us-gal": "gallon",
  "imp-gal": "imperial gallon",
  g: "gram",
  kg: "kilogram",
  oz: "ounce",
  lb: "pound",
} as const;

/** A basin holds between a bucket and a lake of five Olympic pools. Litres. */
export const BASIN_LITRES = { low: 20, high: 15_000_000 } as const;

/** @example litresFrom(10_000, "us-gal") // 37854.11784 */
export const litresFrom = (amount: number, unit: VolumeUnit): number =>
  convert(amount, NAMES[unit]).to("litre");

/** @example volumeIn(37854.11784, "us-gal") // 10000 */
export const volumeIn = (litres: number, unit: VolumeUnit): number =>
  convert(litres, "litre").to(NAMES[unit]);

/** @example gramsFrom(2, "lb") // 907.18 */
export const gramsFrom = (amount: number, unit: MassUnit): number => convert(amount, NAMES[unit]).to("gram");
/** @example massIn(1000, "lb") // 2.2046 */
export const massIn = (grams: number, unit: MassUnit): number => convert(grams, "gram").to(NAMES[unit]);

/** A jug's marks. @example millilitresFrom(8, "fl oz") // 236.59 */
export const millilitresFrom = (amount: number, unit: "mL" | "fl oz"): number =>
  unit === "mL" ? amount : convert(amount, "fl oz").to("millilitre");
/** @example millilitresIn(236.588, "fl oz") // 8 */
export const millilitresIn = (millilitres: number, unit: "mL" | "fl oz"): number =>
  unit === "mL" ? millilitres : convert(millilitres, "millilitre").to("fl oz");

/** @example celsiusFrom(104, "F") // 40 */
export const celsiusFrom = (degrees: number, unit: TemperatureUnit): number =>
  unit === "C" ? degrees : (degrees - 32) / 1.8;
/** @example temperatureIn(40, "F") // 104 */
export const temperatureIn = (celsius: number, unit: TemperatureUnit): number =>
  unit === "C" ? celsius : celsius * 1.8 + 32;

/** Units in which hardness and alkalinity are told beside mg/L of calcium carbonate. */
export type HardnessUnit = "dH" | "fH" | "mmol/L";

/**
 * mg/L of calcium carbonate that one unit of hardness stands for. A German degree is 10 mg/L of calcium oxide
 * (56.077 g/mol), a French one 10 mg/L of calcium carbonate (100.087 g/mol), and a mmol/L is one of calcium.
 */
const HARDNESS: Record<HardnessUnit, number> = { dH: (10 * 100.087) / 56.077, fH: 10, "mmol/L": 100.087 };

/** @param ppm mg/L as CaCO3 @example hardnessIn(178.48, "dH") // 10 */
export const hardnessIn = (ppm: number, unit: HardnessUnit): number => ppm / HARDNESS[unit];

/** A basin's volume in litres, or an `InputFault` that names the field. */
export const basinLitres = (field: string, litres: unknown): number =>
  numberWithin(field, litres, BASIN_LITRES.low, BASIN_LITRES.high);
